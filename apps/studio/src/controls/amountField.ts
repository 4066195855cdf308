import type { z } from 'zod';
import { defaultOf, limitsOf } from './limits.ts';

/** One number of some settings, with where it may go. */
export interface AmountField<Name extends string = string> {
  name: Name;
  label: string;
  min: number;
  max: number;
  /** What a double click sets it back to. */
  usual: number;
  /** The range of the slider: where the number mostly lies. What lies beyond it can be typed. */
  slider: readonly [number, number];
  /** 100 shows shares as per cent. */
  factor: number;
  suffix: string;
  digits: number;
}

type LastOf<Path extends string> = Path extends `${string}.${infer Rest}` ? LastOf<Rest> : Path;

/** What the schema does not say. */
interface AmountOptions {
  /** Default: all that the schema takes. */
  slider?: readonly [number, number];
  /** Default: the default of the schema. */
  usual?: number;
  /** Shown as per cent. */
  percent?: boolean;
  suffix?: string;
  /** After the decimal point; default 2, per cent 0. */
  digits?: number;
}

/**
 * The field of one number of a schema, which says within which limits it lies and what it is at first.
 * @param path as of `limitsOf`; its last part is the name of the field
 * @throws if the schema leaves the number without limits, or without default where none is given
 * @example amountField(deriveSettings, 'ao.reach', 'Max. distance', { slider: [0.005, 0.3], percent: true })
 */
export function amountField<Path extends string>(
  schema: z.ZodType,
  path: Path,
  label: string,
  options: AmountOptions = {},
): AmountField<LastOf<Path>> {
  const { percent = false, usual = defaultOf(schema, path) } = options;
  const { suffix = percent ? ' %' : '', digits = percent ? 0 : 2 } = options;
  const { min, max } = limitsOf(schema, path, percent ? digits + 2 : digits);
  if (min === undefined || max === undefined) throw new Error(`The setting “${path}” has no limits.`);
  const { slider = [min, max] } = options;
  const name = path.slice(path.lastIndexOf('.') + 1) as LastOf<Path>;
  return { name, label, min, max, usual, slider, factor: percent ? 100 : 1, suffix, digits };
}
