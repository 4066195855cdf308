import type { Image } from './image.ts';

/** What lies beyond a picture's border: its nearest texel, the picture again, or the picture mirrored. */
export type Wrap = 'clamp' | 'repeat' | 'mirror';

/** The texel row or column that stands for one beyond the border. */
export function wrapped(index: number, size: number, wrap: Wrap): number {
  if (index >= 0 && index < size) return index;
  if (wrap === 'clamp') return index < 0 ? 0 : size - 1;
  if (wrap === 'repeat') return ((index % size) + size) % size;
  const twice = ((index % (2 * size)) + 2 * size) % (2 * size);
  return twice < size ? twice : 2 * size - 1 - twice;
}

/**
 * A value between texel centres, by bilinear interpolation.
 * @param u, v place in the picture, 0 to 1, v upwards
 */
export function bilinear(
  image: Image,
  u: number,
  v: number,
  channel: number,
  wrapU: Wrap = 'clamp',
  wrapV: Wrap = wrapU,
): number {
  value[0] = 0;
  addBilinear(image, u, v, [wrapU, wrapV], channel, 1, 1, value, 0);
  return value[0];
}

const value = new Float64Array(1);

/**
 * Adds a share of neighbouring channels between texel centres, by bilinear interpolation.
 * @param u, v place in the picture, 0 to 1, v upwards
 * @param first, count the channels, of which there are three at most
 * @param out added to, from `to` on
 */
export function addBilinear(
  { width, height, channels, data }: Image,
  u: number,
  v: number,
  wrap: readonly [u: Wrap, v: Wrap],
  first: number,
  count: number,
  share: number,
  out: Float64Array,
  to: number,
): void {
  const x = u * width - 0.5;
  const y = (1 - v) * height - 0.5;
  const left = Math.floor(x);
  const top = Math.floor(y);
  const right = (x - left) * share;
  const fx = share - right;
  const below = y - top;
  const above = 1 - below;
  const x0 = wrapped(left, width, wrap[0]);
  const x1 = wrapped(left + 1, width, wrap[0]);
  const y0 = wrapped(top, height, wrap[1]) * width;
  const y1 = wrapped(top + 1, height, wrap[1]) * width;
  let a = (y0 + x0) * channels + first;
  let b = (y0 + x1) * channels + first;
  let c = (y1 + x0) * channels + first;
  let d = (y1 + x1) * channels + first;
  for (let k = 0; k < count; k++) {
    out[to + k]! += (data[a++]! * fx + data[b++]! * right) * above + (data[c++]! * fx + data[d++]! * right) * below;
  }
}
