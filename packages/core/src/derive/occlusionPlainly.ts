import type { Image } from '../image/image.ts';
import { planeLike } from '../image/planes.ts';
import type { Border } from '../image/filter/resample.ts';
import { wrapped } from '../image/sample.ts';
import { cutOf, linesOfCut, overDiagonal, reachInTexels, stepsOfCut, type OcclusionOptions } from './cuts.ts';
import { LineHorizons } from './horizons.ts';
import { slopes } from './slopes.ts';

/** Openness of a height field, from 0 to 1: without the kernel. */
export function occlusionPlainly(height: Image, options: OcclusionOptions, border: Border): Image {
  const scale = options.depth * height.width;
  const field: Image = { ...planeLike(height), data: height.data.map((value) => value * scale) };
  const reach = reachInTexels(height, options, border);
  const sum = planeLike(height);
  let ground: Ground | null = null;
  for (let k = 0; k < options.slices; k++) {
    const { cos, sin, isTurned } = cutOf(k, options.slices);
    if (ground?.isTurned !== isTurned) ground = groundOf(field, isTurned, border);
    const own = skyOfSlice(ground, cos, sin, reach);
    const { data } = isTurned ? overDiagonal(own) : own;
    for (let i = 0; i < data.length; i++) sum.data[i]! += data[i]!;
  }
  for (let i = 0; i < sum.data.length; i++) sum.data[i] = Math.max(0, Math.min(1, sum.data[i]! / options.slices));
  return sum;
}

/** A height field in texels with its slopes. */
interface Ground {
  isTurned: boolean;
  field: Image;
  across: Float32Array;
  down: Float32Array;
  wrap: Border;
}

function groundOf(field: Image, isTurned: boolean, border: Border): Ground {
  const own = isTurned ? overDiagonal(field) : field;
  return { isTurned, field: own, ...slopes(own, 'Scharr', border), wrap: border };
}

/**
 * The sky of all cuts in one direction, which runs more across than down. They lie on lines that take one step across
 * at a time, and together meet each texel once.
 */
function skyOfSlice({ field, across, down, wrap }: Ground, cos: number, sin: number, reach: number): Image {
  const sky = planeLike(field);
  const { width, height, data } = field;
  const perStep = Math.abs(cos);
  const steps = stepsOfCut(cos, reach, width);
  const horizons = new LineHorizons(steps);
  const { column, shift, first, end } = linesOfCut(field, cos, sin, steps, wrap);
  const [line, turned] = [new Float64Array(column.length), new Float64Array(column.length)];
  const texels = new Int32Array(column.length);
  const [behind, ahead] = [new Float64Array(width), new Float64Array(width)];
  for (let k = first; k < end; k++) {
    const [from, to] = wrap === 'repeat' ? [0, width] : stretchWithin(shift, steps, k, width, height);
    const count = to - from;
    const total = count + 2 * steps;
    for (let i = 0; i < total; i++) {
      const at = wrapped(k + shift[from + i]!, height, wrap) * width + column[from + i]!;
      texels[i] = at;
      line[i] = data[at]!;
      turned[total - 1 - i] = data[at]!;
    }
    horizons.find(line, count, behind);
    horizons.find(turned, count, ahead);
    for (let i = 0; i < count; i++) {
      const at = texels[steps + i]!;
      const [back, forth] = [behind[i]! * perStep, ahead[count - 1 - i]! * perStep];
      sky.data[at] =
        cos >= 0
          ? skyOfCut(forth, back, across[at]!, down[at]!, cos, sin)
          : skyOfCut(back, forth, across[at]!, down[at]!, cos, sin);
    }
  }
  return sky;
}

/** The columns between which a line lies within the picture. */
function stretchWithin(
  shift: Int32Array,
  steps: number,
  k: number,
  width: number,
  height: number,
): [from: number, to: number] {
  const isOutside = (x: number): boolean => k + shift[steps + x]! < 0 || k + shift[steps + x]! >= height;
  let [from, to] = [0, width];
  while (from < to && isOutside(from)) from++;
  while (to > from && isOutside(to - 1)) to--;
  return [from, to];
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
