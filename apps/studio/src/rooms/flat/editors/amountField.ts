/** One number of some settings, with where it may go. */
export interface AmountField<Name extends string = string> {
  name: Name;
  label: string;
  min: number;
  max: number;
  usual: number;
  /** 100 shows shares as per cent. */
  factor?: number;
  suffix?: string;
  digits?: number;
}

/** A field that is shown as per cent. */
export const percentField = <Name extends string>(
  name: Name,
  label: string,
  [min, max]: readonly [number, number],
  usual: number,
  digits = 0,
): AmountField<Name> => ({ name, label, min, max, usual, digits, factor: 100, suffix: ' %' });
