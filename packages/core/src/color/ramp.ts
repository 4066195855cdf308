import { ZographosError } from '../errors.ts';
import { srgbToLinear } from './srgb.ts';
import { linearToOklab, oklabToLinear } from './oklab.ts';

/** A colour at a place 0 to 1, as `#rrggbb`. */
export interface ColorStop {
  at: number;
  color: string;
}

/** `#rrggbb` as light. @throws input/bad-settings */
export function parseColor(text: string): [r: number, g: number, b: number] {
  const match = /^#?([0-9a-f]{2})([0-9a-f]{2})([0-9a-f]{2})$/i.exec(text);
  if (!match) throw new ZographosError('input/bad-settings', `“${text}” is not a colour. Write it as #8a7f6c.`);
  return [1, 2, 3].map((i) => srgbToLinear(parseInt(match[i]!, 16) / 255)) as [number, number, number];
}

/**
 * Colours between stops, mixed in OKLab; beyond the first and the last they stay.
 * @param stops at least one, in any order
 * @returns a function that writes light r, g, b
 */
export function colorRamp(stops: readonly ColorStop[]): (value: number, out: Float32Array, at: number) => void {
  const sorted = stops.toSorted((a, b) => a.at - b.at);
  const places = Float64Array.from(sorted, ({ at }) => at);
  const labs = Float64Array.from(sorted.flatMap(({ color }) => linearToOklab(...parseColor(color))));
  const last = places.length - 1;
  const mixed: [number, number, number] = [0, 0, 0];
  return (value, out, at) => {
    let high = 0;
    while (high <= last && !(places[high]! > value)) high++;
    const low = Math.max(0, high - 1);
    high = Math.min(last, high);
    const span = places[high]! - places[low]!;
    const share = span > 0 ? (value - places[low]!) / span : 0;
    for (let k = 0; k < 3; k++) {
      const from = labs[low * 3 + k]!;
      mixed[k] = from + (labs[high * 3 + k]! - from) * share;
    }
    const [r, g, b] = oklabToLinear(mixed);
    out[at] = Math.max(0, Math.min(1, r));
    out[at + 1] = Math.max(0, Math.min(1, g));
    out[at + 2] = Math.max(0, Math.min(1, b));
  };
}
