/** Numbers, sizes and times as the studio writes them. */

export { count, grouped as whole } from '@zographos/operations';

/** Four significant digits, without needless zeros. */
export const measure = (value: number): string => String(Number(value.toPrecision(4)));

export const percent = (share: number): string => `${Math.round(share * 100)}\u2009%`;

/** Doublings of light: “+1.5”. */
export const stops = (exposure: number): string => `${exposure > 0 ? '+' : ''}${exposure.toFixed(1)}`;

export function seconds(value: number): string {
  if (value < 10) return `${value.toFixed(1)} s`;
  if (value < 100) return `${Math.round(value)} s`;
  return `${Math.round(value / 60)} min`;
}

export function bytes(value: number): string {
  const units = ['B', 'kB', 'MB', 'GB', 'TB'];
  let i = 0;
  for (; value >= 1000 && i < units.length - 1; i++) value /= 1000;
  return `${value < 10 && i > 0 ? value.toFixed(1) : Math.round(value)} ${units[i]}`;
}

export const dayOf = (time: string): string =>
  new Date(time).toLocaleDateString('en-GB', { day: 'numeric', month: 'short', year: 'numeric' });

export const clockOf = (time: string): string =>
  new Date(time).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' });

/**
 * The address of a link by which something is saved as a JSON file.
 * @example jsonLink({ a: 1 }) // for the href of a link with `download`
 */
export const jsonLink = (value: unknown): string =>
  `data:application/json,${encodeURIComponent(JSON.stringify(value, null, 2))}`;
