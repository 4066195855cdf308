import type { Image } from '../image/image.ts';
import { meanOf } from '../image/planes.ts';
import { extentOf, type Axis } from './overlap.ts';

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
  const { width, channels, data } = image;
  const [along, other] = extentOf(image, axis);
  const texel = (i: number, j: number): number => (axis === 'across' ? j * width + i : i * width + j) * channels;
  const border = new Float32Array(other);
  let inside = 0;
  for (let j = 0; j < other; j++) {
    for (let i = 0; i < along; i++) {
      const [a, b] = [texel(i, j), texel((i + 1) % along, j)];
      let jump = 0;
      for (let c = 0; c < channels; c++) jump += Math.abs(data[a + c]! - data[b + c]!);
      if (i === along - 1) border[j] = jump;
      else inside += jump;
    }
  }
  const mean = inside / (Math.max(1, along - 1) * other);
  return border.map((jump) => (mean > 0 ? jump / mean : jump > 0 ? Infinity : 0));
}
