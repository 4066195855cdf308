import { ZographosError } from '../errors.ts';
import { srgbToLinear } from './srgb.ts';
import { linearToOklab, oklabToLinear, type Oklab } from './oklab.ts';

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
  const labs = sorted.map(({ color }) => linearToOklab(...parseColor(color)));
  return (value, out, at) => {
    let next = sorted.findIndex((stop) => stop.at > value);
    if (next < 0) next = sorted.length;
    const [low, high] = [Math.max(0, next - 1), Math.min(sorted.length - 1, next)];
    const span = sorted[high]!.at - sorted[low]!.at;
    const share = span > 0 ? (value - sorted[low]!.at) / span : 0;
    const mixed = labs[low]!.map((from, k) => from + (labs[high]![k]! - from) * share) as unknown as Oklab;
    const light = oklabToLinear(mixed);
    for (let k = 0; k < 3; k++) out[at + k] = Math.max(0, Math.min(1, light[k]!));
  };
}
