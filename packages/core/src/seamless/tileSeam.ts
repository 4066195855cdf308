import type { Image } from '../image/image.ts';
import { meanOf } from '../image/planes.ts';
import { extentOf, type Axis } from './ends/overlap.ts';

/**
 * How much a repeated picture shows its border: the mean jump across it over the mean jump between neighbours within.
 * About 1 where the border cannot be told from any other place (own definition); 0 for a picture without any change.
 */
export const tileSeam = (image: Image, axis: Axis): number => meanOf(tileSeamAlong(image, axis));

/**
 * The same, place by place along the border.
 * @returns a figure for each row (or column) that meets it; infinite for a jump where nothing else changes
 */
export function tileSeamAlong(image: Image, axis: Axis): Float32Array {
  const { height, channels, data } = image;
  const [along, other] = extentOf(image, axis);
  const border = new Float32Array(other);
  const row = data.length / height;
  let inside = 0;
  if (axis === 'across') {
    for (let y = 0; y < height; y++) {
      const [first, last] = [y * row, (y + 1) * row - channels];
      for (let at = first; at < last; at++) inside += Math.abs(data[at]! - data[at + channels]!);
      for (let c = 0; c < channels; c++) border[y]! += Math.abs(data[last + c]! - data[first + c]!);
    }
  } else {
    const last = data.length - row;
    for (let at = 0; at < last; at++) inside += Math.abs(data[at]! - data[at + row]!);
    for (let i = 0; i < row; i++) border[Math.floor(i / channels)]! += Math.abs(data[last + i]! - data[i]!);
  }
  const mean = inside / (Math.max(1, along - 1) * other);
  return border.map((jump) => (mean > 0 ? jump / mean : jump > 0 ? Infinity : 0));
}
