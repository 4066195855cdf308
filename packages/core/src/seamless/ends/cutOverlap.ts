import { quickLinearToSrgb } from '../../color/srgb.ts';
import type { Image } from '../../image/image.ts';
import { wrapped } from '../../image/sample.ts';
import { smoothStep } from '../../image/planes.ts';
import { costBetween, MOST_COST } from '../cut/cutCost.ts';
import { leastVisibleCut, type Meeting } from '../cut/leastVisibleCut.ts';
import { CutSide } from '../cut/minCut.ts';
import { extentOf, requireOverlap, type Axis, type Overlap } from './overlap.ts';

/**
 * Cuts the overlap of both ends where it shows least: along the minimum cut, which may take any way, back and forth
 * around what stands in it, and closes on itself so that it repeats (Kwatra, Schödl, Essa, Turk and Bobick, "Graphcut
 * Textures", 2003). Where both ends are smooth it is blended, where either has edges it stays sharp, for half an edge
 * shows more than a step.
 * @param soft texels to either side of the cut over which it is blended; 0 leaves it hard
 * @throws input/bad-settings
 */
export function cutOverlap(image: Image, axis: Axis, width: number, soft = 0): Overlap {
  requireOverlap(image, axis, width);
  const radius = Math.round(soft);
  // A cut at the very side of the overlap would lie on the border of the tile, and show there.
  const margin = Math.min(radius + 1, Math.floor((width - 1) / 2));
  const ends = new MeetingEnds(image, axis, width, margin);
  const { cut } = leastVisibleCut(ends);
  const shares = sharesOf(cut, ends, margin);
  const weights = radius > 0 ? softened(shares, ends, margin, radius) : shares;
  return { axis, width, weights: axis === 'across' ? weights : transposed(weights, width, ends.height) };
}

/** Both ends of a picture on each other, without margins; its rows run along the cut, and the first lies below the last. */
class MeetingEnds implements Meeting {
  readonly width: number;
  readonly height: number;
  readonly repeats = true;
  private readonly image: Image;
  /** From a texel to the next along the axis, and across it; and from the beginning to the end of the picture. */
  private readonly across: number;
  private readonly down: number;
  private readonly gap: number;
  private readonly first: number;

  constructor(image: Image, axis: Axis, width: number, margin: number) {
    const [along, rows] = extentOf(image, axis);
    this.image = image;
    this.width = width - 2 * margin;
    this.height = rows;
    [this.across, this.down] = axis === 'across' ? [1, image.width] : [image.width, 1];
    this.gap = (along - width) * this.across * image.channels;
    this.first = margin * this.across;
  }

  kindAt(left: number, _top: number, cell: number): number {
    const isLast = left + cell >= this.width;
    if (left === 0) return isLast ? CutSide.either : CutSide.old;
    return isLast ? CutSide.fresh : CutSide.either;
  }

  costAt(i: number, j: number, way: 'right' | 'below'): number {
    if (way === 'right' && i + 1 >= this.width) return MOST_COST;
    const here = this.texelAt(i, j);
    const beside = way === 'right' ? this.texelAt(i + 1, j) : this.texelAt(i, (j + 1) % this.height);
    return costBetween(this.image, here + this.gap, beside + this.gap, this.image, here, beside);
  }

  /** Tone of the beginning, or of the end, of the picture. */
  toneAt(i: number, j: number, end: 'start' | 'end'): number {
    const { channels, data, colorSpace } = this.image;
    const at = this.texelAt(i, j) + (end === 'end' ? this.gap : 0);
    const colors = Math.min(3, channels);
    let sum = 0;
    for (let c = 0; c < colors; c++) sum += colorSpace === 'srgb' ? quickLinearToSrgb(data[at + c]!) : data[at + c]!;
    return sum / colors;
  }

  private texelAt(i: number, j: number): number {
    return (this.first + i * this.across + j * this.down) * this.image.channels;
  }
}

/** How much of the end shows at each place of the overlap: all before the cut, nothing behind it. */
function sharesOf(cut: Uint8Array, { width: within, height }: Meeting, margin: number): Float32Array {
  const width = within + 2 * margin;
  const shares = new Float32Array(width * height);
  for (let j = 0; j < height; j++) {
    shares.fill(1, j * width, j * width + margin);
    for (let i = 0; i < within; i++) shares[j * width + margin + i] = 1 - cut[j * within + i]!;
  }
  return shares;
}

/** Deviations of tone up to which a place is smooth, and from which on it has edges. */
const [SMOOTH, EDGY] = [0.03, 0.08];

function softened(shares: Float32Array, ends: MeetingEnds, margin: number, radius: number): Float32Array {
  const width = ends.width + 2 * margin;
  const sharp = meansOfLoop(shares, width, ends.height, 1);
  if (radius === 1) return sharp;
  const soft = meansOfLoop(shares, width, ends.height, radius);
  const detail = detailOf(ends, radius);
  for (let j = 0, at = 0; j < ends.height; j++) {
    for (let i = 0; i < width; i++, at++) {
      if (soft[at] === sharp[at]) continue;
      soft[at]! += (sharp[at]! - soft[at]!) * smoothStep(SMOOTH, EDGY, detail(i - margin, j));
    }
  }
  return soft;
}

/** How much either end changes about a texel: the standard deviation of its tone within a square, told by some texels. */
function detailOf(ends: MeetingEnds, radius: number): (i: number, j: number) => number {
  const step = Math.max(1, radius >> 2);
  const [w, h] = [Math.ceil(ends.width / step), Math.ceil(ends.height / step)];
  const around = Math.round(radius / step);
  const [start, end] = (['start', 'end'] as const).map((which) => {
    const tone = new Float32Array(w * h);
    for (let y = 0, at = 0; y < h; y++) {
      for (let x = 0; x < w; x++, at++) tone[at] = ends.toneAt(x * step, y * step, which);
    }
    const mean = meansOfLoop(tone, w, h, around);
    const squares = meansOfLoop(
      tone.map((value) => value * value),
      w,
      h,
      around,
    );
    return squares.map((square, at) => Math.sqrt(Math.max(0, square - mean[at]! ** 2)));
  }) as [Float32Array, Float32Array];
  return (i, j) => {
    const x = Math.max(0, Math.min(w - 1, Math.floor(i / step)));
    const at = Math.floor(j / step) * w + x;
    return Math.max(start[at]!, end[at]!);
  };
}

/** Means over squares of so many texels to either side; the first row lies below the last. */
function meansOfLoop(values: Float32Array, width: number, rows: number, radius: number): Float32Array {
  const across = new Float32Array(values.length);
  const count = 2 * radius + 1;
  for (let j = 0; j < rows; j++) {
    const row = j * width;
    const last = row + width - 1;
    let sum = values[row]! * radius;
    for (let i = 0; i < radius; i++) sum += values[Math.min(last, row + i)]!;
    for (let i = 0; i < width; i++) {
      sum += values[Math.min(last, row + i + radius)]!;
      across[row + i] = sum / count;
      sum -= values[Math.max(row, row + i - radius)]!;
    }
  }
  const means = new Float32Array(values.length);
  const sums = new Float64Array(width);
  const rowOf = (j: number): number => wrapped(j, rows, 'repeat') * width;
  for (let j = -radius; j < radius; j++) for (let i = 0; i < width; i++) sums[i]! += across[rowOf(j) + i]!;
  for (let j = 0; j < rows; j++) {
    const [next, gone] = [rowOf(j + radius), rowOf(j - radius)];
    for (let i = 0; i < width; i++) {
      sums[i]! += across[next + i]!;
      // What is left over by adding and taking away is no share of anything.
      means[j * width + i] = Math.fround(Math.round((sums[i]! / count) * 1e6) / 1e6);
      sums[i]! -= across[gone + i]!;
    }
  }
  return means;
}

function transposed(values: Float32Array, width: number, rows: number): Float32Array {
  const turned = new Float32Array(values.length);
  for (let j = 0; j < rows; j++) for (let i = 0; i < width; i++) turned[i * rows + j] = values[j * width + i]!;
  return turned;
}
