import { ZographosError } from '../../errors.ts';
import type { Image } from '../../image/image.ts';
import { toUnit } from '../../image/kindMeaning.ts';

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

/**
 * How the two texels at each place of a row of the overlap become one; all channels, for colours are mixed as a whole.
 * @param start, end where both rows begin in the picture
 * @param weights how much of the end shows, place by place
 * @param to, at told the result, from there on
 */
export type Mix = (
  from: Float32Array,
  start: number,
  end: number,
  weights: Float32Array,
  to: Float32Array,
  at: number,
) => void;

/**
 * Makes a picture repeat along one axis.
 * @param mix how texels of the overlap become one; plainly, if nothing is said
 * @param unit whether texels are directions (0.5 for none along an axis), which are made of unit length again
 */
export function layOver(
  image: Image,
  overlap: Overlap,
  { unit = false, mix }: { unit?: boolean; mix?: Mix } = {},
): Image {
  const { width, height, channels, data: from } = image;
  const { axis, width: depth, weights } = overlap;
  const [w, h] = axis === 'across' ? [width - depth, height] : [width, height - depth];
  const data = new Float32Array(w * h * channels);
  // Of each row (or of all rows together) first what is mixed, then what stays.
  const rows = axis === 'across' ? h : 1;
  const mixed = axis === 'across' ? depth : depth * width;
  const [row, line] = axis === 'across' ? [width, w] : [width * height, w * h];
  for (let y = 0; y < rows; y++) {
    const [start, end, to] = [y * row, y * row + line, y * line].map((texel) => texel * channels) as [
      number,
      number,
      number,
    ];
    data.set(from.subarray(start + mixed * channels, end), to + mixed * channels);
    const shares = weights.subarray(y * mixed, (y + 1) * mixed);
    if (mix) mix(from, start, end, shares, data, to);
    else mixPlainly(from, start, end, shares, data, to, channels);
    if (unit) for (let i = 0; i < mixed; i++) toUnit(data, to + i * channels);
  }
  return { ...image, width: w, height: h, data };
}

function mixPlainly(
  from: Float32Array,
  start: number,
  end: number,
  weights: Float32Array,
  to: Float32Array,
  at: number,
  channels: number,
): void {
  for (let i = 0, k = 0; i < weights.length; i++) {
    const weight = weights[i]!;
    for (let c = 0; c < channels; c++, k++) {
      const own = from[start + k]!;
      to[at + k] = own + (from[end + k]! - own) * weight;
    }
  }
}
