import type { Image } from '../image/image.ts';
import type { Size } from '../math/size.ts';
import { planeLike } from '../image/planes.ts';
import type { Border } from '../image/filter/resample.ts';
import { wrapped } from '../image/sample.ts';

export interface OcclusionOptions {
  /** How high white lies over black, in tile widths. */
  depth: number;
  /** How far what occludes may be, in tile widths. */
  reach: number;
  /** Cuts through the surface at each place, each with its two horizons. */
  slices: number;
}

/** How many texels away what occludes may be. */
export const reachInTexels = ({ width, height }: Image, { reach }: OcclusionOptions, border: Border): number =>
  Math.max(1, Math.min(reach * width, border === 'repeat' ? Infinity : Math.hypot(width, height)));

/**
 * The direction of one of the cuts. Cuts that run more down than across are made on the picture turned over its diagonal
 * (`isTurned`): memory is read in order then, and cosine and sine are those on the turned picture.
 */
export function cutOf(k: number, slices: number): { cos: number; sin: number; isTurned: boolean } {
  const angle = ((k + 0.5) * Math.PI) / slices;
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  const isTurned = Math.abs(cos) < Math.abs(sin);
  return isTurned ? { cos: sin, sin: cos, isTurned } : { cos, sin, isTurned };
}

/** Steps across that a horizon may be away; twice round, and a line has come by all there is. */
export const stepsOfCut = (cos: number, reach: number, width: number): number =>
  Math.max(1, Math.min(Math.floor(reach * Math.abs(cos)), 2 * width));

/** The lines that all places of a cut lie on: one step across at a time, they meet each texel once. */
export interface Lines {
  /** Of each place of a line drawn out by the steps at both ends: its column, and how far down it lies. */
  column: Int32Array<ArrayBuffer>;
  shift: Int32Array<ArrayBuffer>;
  /** Where the first line and the one behind the last begin. */
  first: number;
  end: number;
}

export function linesOfCut({ width, height }: Size, cos: number, sin: number, steps: number, border: Border): Lines {
  const column = Int32Array.from({ length: width + 2 * steps }, (_, i) => wrapped(i - steps, width, border));
  const shift = Int32Array.from(column, (_, i) => Math.round(((i - steps) * sin) / cos));
  const last = shift[steps + width - 1]!;
  return border === 'repeat'
    ? { column, shift, first: 0, end: height }
    : { column, shift, first: Math.min(0, -last), end: height + Math.max(0, -last) };
}

/** Texels that are turned over at a time, so that both pictures stay in the nearest memory. */
const TURNED = 32;

/** A picture of one channel with rows for columns. */
export function overDiagonal({ width, height, data }: Image): Image {
  const turned = planeLike({ width: height, height: width });
  for (let top = 0; top < height; top += TURNED) {
    for (let left = 0; left < width; left += TURNED) {
      for (let y = top; y < Math.min(height, top + TURNED); y++) {
        for (let x = left; x < Math.min(width, left + TURNED); x++) turned.data[x * height + y] = data[y * width + x]!;
      }
    }
  }
  return turned;
}
