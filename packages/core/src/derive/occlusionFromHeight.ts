import type { Image } from '../image/image.ts';
import { planeLike } from '../image/planes.ts';
import type { Border } from '../image/resample.ts';
import { wrapped, type Wrap } from '../image/sample.ts';
import { slopes } from './slopes.ts';

export interface OcclusionOptions {
  /** How high white lies over black, in tile widths. */
  depth: number;
  /** How far what occludes may be, in tile widths. */
  reach: number;
  /** Cuts through the surface at each place, each with its two horizons. */
  slices: number;
  /** Whether every texel along a cut is looked at, or ever fewer the farther they are. */
  every: boolean;
}

/**
 * Openness of a height field: in each of several upright cuts through a place both horizons are found, and the sky
 * between them counted by the cosine to the surface's own normal, in closed form (Jimenez, Wu, Pesce and Jarabo,
 * "Practical Real-Time Strategies for Accurate Indirect Occlusion", 2016, section 4).
 * @param height one channel, 0 to 1
 * @returns 1 for open, 0 for closed
 */
export function occlusionFromHeight(height: Image, options: OcclusionOptions, border: Border): Image {
  const { depth, slices } = options;
  const { width, height: rows } = height;
  const scale = depth * width;
  const field = height.data.map((value) => value * scale);
  const { across, down } = slopes({ ...planeLike(height), data: field }, 'Scharr', border);
  const reach = Math.max(1, Math.min(options.reach * width, border === 'repeat' ? Infinity : Math.hypot(width, rows)));
  const result = planeLike(height);
  const wrap = border === 'repeat' ? 'repeat' : 'clamp';
  const margin = Math.ceil(reach) + 1;
  const long = width + 2 * margin;
  const wide = drawnOut(field, width, rows, margin, wrap);
  const [ahead, behind] = [new Float32Array(width), new Float32Array(width)];
  const cuts = Array.from({ length: slices }, (_, k) => {
    const angle = ((k + 0.5) * Math.PI) / slices;
    return { cos: Math.cos(angle), sin: Math.sin(angle), steps: stepsAlong(angle, reach, options.every) };
  });
  for (let y = 0; y < rows; y++) {
    const here = y * width;
    const out = result.data.subarray(here, here + width);
    for (const { cos, sin, steps } of cuts) {
      // Horizons as slopes, as low as may be at first.
      ahead.fill(-1e6);
      behind.fill(-1e6);
      for (let s = 0; s < steps.length; s += 3) {
        const dx = steps[s]!;
        const dy = steps[s + 1]!;
        const nearness = steps[s + 2]!;
        const forward = wrapped(y + dy, rows, wrap) * long + margin + dx;
        const back = wrapped(y - dy, rows, wrap) * long + margin - dx;
        for (let x = 0; x < width; x++) {
          const base = field[here + x]!;
          const rise = (wide[forward + x]! - base) * nearness;
          const fall = (wide[back + x]! - base) * nearness;
          if (rise > ahead[x]!) ahead[x] = rise;
          if (fall > behind[x]!) behind[x] = fall;
        }
      }
      for (let x = 0; x < width; x++) {
        out[x]! += skyOfCut(ahead[x]!, behind[x]!, across[here + x]!, down[here + x]!, cos, sin);
      }
    }
    for (let x = 0; x < width; x++) out[x] = Math.max(0, Math.min(1, out[x]! / slices));
  }
  return result;
}

/** Rows with what lies beyond their ends, so that whoever looks along them need not ask. */
function drawnOut(field: Float32Array, width: number, rows: number, margin: number, wrap: Wrap): Float32Array {
  const long = width + 2 * margin;
  const wide = new Float32Array(long * rows);
  const column = Int32Array.from({ length: long }, (_, i) => wrapped(i - margin, width, wrap));
  for (let y = 0; y < rows; y++) {
    for (let x = 0; x < long; x++) wide[y * long + x] = field[y * width + column[x]!]!;
  }
  return wide;
}

/** Whole steps along a direction, each with one over its length: all of them, or ever wider ones. */
function stepsAlong(angle: number, reach: number, every: boolean): Float64Array {
  const steps: number[] = [];
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  // One texel further along the longer axis each time.
  const stride = 1 / Math.max(Math.abs(cos), Math.abs(sin));
  let count = 1;
  while (count * stride <= reach || steps.length === 0) {
    const [dx, dy] = [Math.round(cos * stride * count), Math.round(sin * stride * count)];
    steps.push(dx, dy, 1 / Math.hypot(dx, dy));
    count += every ? 1 : Math.max(1, Math.floor(count / 3));
  }
  return Float64Array.from(steps);
}

/** The sky in one cut, weighed by the cosine to the normal: 1 for a level place with nothing about it. */
function skyOfCut(ahead: number, behind: number, slopeX: number, slopeY: number, cos: number, sin: number): number {
  // The normal is (−slopeX, −slopeY, 1); what of it lies in the cut, and how far it leans there.
  const lean = -(slopeX * cos + slopeY * sin);
  const inCut = Math.sqrt(lean * lean + 1);
  const length = Math.sqrt(slopeX * slopeX + slopeY * slopeY + 1);
  const cosLean = 1 / inCut;
  const sinLean = lean / inCut;
  // No horizon is lower than the surface itself.
  const rise = Math.max(ahead, -lean);
  const fall = Math.max(behind, lean);
  // Angles from upright, h with cot h = rise; of twice that angle sine and cosine are known without asking for it.
  const forward = Math.PI / 2 - Math.atan(rise);
  const back = Math.atan(fall) - Math.PI / 2;
  const riseSquare = rise * rise + 1;
  const fallSquare = fall * fall + 1;
  const turned =
    ((riseSquare - 2) * cosLean + 2 * rise * sinLean) / riseSquare +
    ((fallSquare - 2) * cosLean - 2 * fall * sinLean) / fallSquare;
  return ((inCut / length) * (2 * cosLean - turned + 2 * (forward + back) * sinLean)) / 4;
}
