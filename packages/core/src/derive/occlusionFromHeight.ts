import type { Image } from '../image/image.ts';
import { planeLike } from '../image/planes.ts';
import type { Border } from '../image/filter/resample.ts';
import { wrapped, type Wrap } from '../image/sample.ts';
import { LineHorizons } from './horizons.ts';
import { slopes } from './slopes.ts';

export interface OcclusionOptions {
  /** How high white lies over black, in tile widths. */
  depth: number;
  /** How far what occludes may be, in tile widths. */
  reach: number;
  /** Cuts through the surface at each place, each with its two horizons. */
  slices: number;
}

/**
 * Openness of a height field: in each of several upright cuts through a place both horizons are found, and the sky
 * between them counted by the cosine to the surface's own normal, in closed form (Jimenez, Wu, Pesce and Jarabo,
 * "Practical Real-Time Strategies for Accurate Indirect Occlusion", 2016, section 4). Every texel along a cut counts.
 * @param height one channel, 0 to 1
 * @returns 1 for open, 0 for closed
 */
export function occlusionFromHeight(height: Image, options: OcclusionOptions, border: Border): Image {
  const cuts = new SkyOfCuts(height, options, border);
  const openness = planeLike(height);
  for (let k = 0; k < options.slices; k++) addSky(openness, cuts.sky(k));
  return asOpenness(openness, options.slices);
}

/** Adds what one of the cuts sees. */
export function addSky({ data }: Image, sky: Image): void {
  for (let i = 0; i < data.length; i++) data[i]! += sky.data[i]!;
}

/** What all cuts see together, as openness; in place. */
export function asOpenness(sum: Image, slices: number): Image {
  const { data } = sum;
  for (let i = 0; i < data.length; i++) data[i] = Math.max(0, Math.min(1, data[i]! / slices));
  return sum;
}

/** What each of the cuts through a height field sees of the sky, cut by cut, so that several threads can share them. */
export class SkyOfCuts {
  private readonly field: Image;
  private readonly reach: number;
  private readonly slices: number;
  private readonly border: Border;
  private ground: Ground | null = null;

  constructor(height: Image, { depth, reach, slices }: OcclusionOptions, border: Border) {
    const { width, height: rows } = height;
    const scale = depth * width;
    this.field = { ...planeLike(height), data: height.data.map((value) => value * scale) };
    this.reach = Math.max(1, Math.min(reach * width, border === 'repeat' ? Infinity : Math.hypot(width, rows)));
    this.slices = slices;
    this.border = border;
  }

  /** @param k which of the cuts */
  sky(k: number): Image {
    const angle = ((k + 0.5) * Math.PI) / this.slices;
    const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
    // Cuts that run more down than across are made on the picture turned over its diagonal: memory is read in order then.
    const isTurned = Math.abs(cos) < Math.abs(sin);
    if (this.ground?.isTurned !== isTurned) this.ground = groundOf(this.field, isTurned, this.border);
    return isTurned
      ? overDiagonal(skyOfSlice(this.ground, sin, cos, this.reach))
      : skyOfSlice(this.ground, cos, sin, this.reach);
  }
}

/** A height field in texels with its slopes. */
interface Ground {
  isTurned: boolean;
  field: Image;
  across: Float32Array;
  down: Float32Array;
  wrap: Wrap;
}

function groundOf(field: Image, isTurned: boolean, border: Border): Ground {
  const own = isTurned ? overDiagonal(field) : field;
  return { isTurned, field: own, ...slopes(own, 'Scharr', border), wrap: border };
}

/** Texels that are turned over at a time, so that both pictures stay in the nearest memory. */
const TURNED = 32;

/** A picture of one channel with rows for columns. */
function overDiagonal({ width, height, data }: Image): Image {
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

/**
 * The sky of all cuts in one direction, which runs more across than down. They lie on lines that take one step across
 * at a time, and together meet each texel once.
 */
function skyOfSlice({ field, across, down, wrap }: Ground, cos: number, sin: number, reach: number): Image {
  const sky = planeLike(field);
  const { width, height, data } = field;
  const perStep = Math.abs(cos);
  // Twice round, and a line has come by all there is.
  const steps = Math.max(1, Math.min(Math.floor(reach * perStep), 2 * width));
  const horizons = new LineHorizons(steps);
  const column = Int32Array.from({ length: width + 2 * steps }, (_, i) => wrapped(i - steps, width, wrap));
  const shift = Int32Array.from(column, (_, i) => Math.round(((i - steps) * sin) / cos));
  const [line, turned] = [new Float64Array(column.length), new Float64Array(column.length)];
  const texels = new Int32Array(column.length);
  const [behind, ahead] = [new Float64Array(width), new Float64Array(width)];
  const last = shift[steps + width - 1]!;
  const [first, end] = wrap === 'repeat' ? [0, height] : [Math.min(0, -last), height + Math.max(0, -last)];
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
