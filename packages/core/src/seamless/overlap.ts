import { ZographosError } from '../errors.ts';
import type { Image } from '../image/image.ts';
import { toUnit } from '../image/kindMeaning.ts';

export type Axis = 'across' | 'up';

/**
 * How the two ends of a picture are laid over each other so that it repeats: the last `width` columns (or rows) come to
 * lie on the first, and the result is shorter by as many. The same plan serves all maps of a set, so that nothing drifts
 * apart.
 */
export interface Overlap {
  axis: Axis;
  /** Columns or rows that lie on each other. */
  width: number;
  /** How much of the end shows at each place of the overlap, 0 to 1: row by row of the picture, as it lies. */
  weights: Float32Array;
}

/** Length along an axis, and across it. */
export const extentOf = (
  { width, height }: Pick<Image, 'width' | 'height'>,
  axis: Axis,
): [along: number, other: number] => (axis === 'across' ? [width, height] : [height, width]);

/**
 * Where a place of the overlap lies among its weights, and its two texels in the picture.
 * @param i column (or row) within the overlap @param j row (or column) across it
 */
export function overlapAt(
  { width, height }: Pick<Image, 'width' | 'height'>,
  { axis, width: depth }: Pick<Overlap, 'axis' | 'width'>,
  i: number,
  j: number,
): { weight: number; start: number; end: number } {
  return axis === 'across'
    ? { weight: j * depth + i, start: j * width + i, end: j * width + width - depth + i }
    : { weight: i * width + j, start: i * width + j, end: (height - depth + i) * width + j };
}

/** @throws input/bad-settings for an overlap that leaves nothing, or is nothing */
export function requireOverlap(image: Pick<Image, 'width' | 'height'>, axis: Axis, width: number): void {
  const [along] = extentOf(image, axis);
  if (Number.isInteger(width) && width >= 1 && width * 2 <= along) return;
  throw new ZographosError(
    'input/bad-settings',
    `Ends of ${width} px cannot be laid over each other in a picture of ${along} px. Choose from 1 to ${Math.floor(along / 2)} px.`,
  );
}

/** How two values become one: as they are mixed plainly, or by a rule of the method. */
export type Mix = (start: number, end: number, weight: number, channel: number) => number;

const plainly: Mix = (start, end, weight) => start + (end - start) * weight;

/**
 * Makes a picture repeat along one axis.
 * @param unit whether texels are directions (0.5 for none along an axis), which are made of unit length again
 */
export function layOver(
  image: Image,
  overlap: Overlap,
  { unit = false, mix = plainly }: { unit?: boolean; mix?: Mix } = {},
): Image {
  const { width, height, channels } = image;
  const { axis, width: depth, weights } = overlap;
  const [w, h] = axis === 'across' ? [width - depth, height] : [width, height - depth];
  const data = new Float32Array(w * h * channels);
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      const to = (y * w + x) * channels;
      const from = (y * width + x) * channels;
      const [i, j] = axis === 'across' ? [x, y] : [y, x];
      if (i >= depth) {
        for (let c = 0; c < channels; c++) data[to + c] = image.data[from + c]!;
        continue;
      }
      const { weight, start, end } = overlapAt(image, overlap, i, j);
      for (let c = 0; c < channels; c++) {
        data[to + c] = mix(image.data[start * channels + c]!, image.data[end * channels + c]!, weights[weight]!, c);
      }
      if (unit) toUnit(data, to);
    }
  }
  return { ...image, width: w, height: h, data };
}
