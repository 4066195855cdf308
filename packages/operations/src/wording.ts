/** How counts, sizes, lengths and shares are written, the same wherever they are shown. */

/** “1 island”, “2 islands”; the plural may be given where it is not made by an s. */
export const count = (number: number, noun: string, plural = `${noun}s`): string =>
  `${grouped(number)} ${number === 1 ? noun : plural}`;

/** A whole number with its thousands apart: 1 038 720. */
export const grouped = (number: number): string => String(Math.round(number)).replace(/\B(?=(\d{3})+$)/g, ' ');

/** “1024 px”, “2048 × 1024 px”. */
export const sizeText = ({ width, height }: { width: number; height: number }): string =>
  width === height ? `${width} px` : `${width} × ${height} px`;

/** A length with its unit: “14 mm”; meshes without a known unit are measured in units. */
export function lengthText(value: number, unit: string): string {
  const number = shortNumber(value);
  return unit === 'units' ? `${number} ${number === '1' ? 'unit' : 'units'}` : `${number} ${unit}`;
}

/** A number with four digits that count, as short as it can be. */
export const shortNumber = (value: number): string => String(Number(value.toPrecision(4)));

/** “12.5 %”. */
export const percentText = (share: number): string => `${Math.round(share * 1000) / 10} %`;

/** Names joined within a sentence; of more than four, how many there are. */
export function namesText(names: readonly string[], noun: string, joined = ', '): string {
  if (names.length === 0) return 'nothing yet';
  return names.length > 4 ? count(names.length, noun, noun === 'mesh' ? 'meshes' : `${noun}s`) : names.join(joined);
}

/** A label as it stands within a sentence: “Y up” stays, “Material slots” becomes “material slots”. */
export const inSentence = (label: string): string =>
  /^[A-Z][A-Z0-9]|^[A-Z] /.test(label) ? label : label.charAt(0).toLowerCase() + label.slice(1);
