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
  const { width, height, channels, data } = image;
  const [along, other] = extentOf(image, axis);
  const border = new Float32Array(other);
  let inside = 0;
  const row = width * channels;
  // Row by row for both axes, for memory is read in order then.
  for (let y = 0; y < height; y++) {
    const next = axis === 'across' ? channels : y === height - 1 ? -y * row : row;
    for (let x = 0; x < width; x++) {
      const at = y * row + x * channels;
      const isBorder = axis === 'across' ? x === width - 1 : y === height - 1;
      const beside = axis === 'across' && isBorder ? at - x * channels : at + next;
      let jump = 0;
      for (let c = 0; c < channels; c++) jump += Math.abs(data[at + c]! - data[beside + c]!);
      if (isBorder) border[axis === 'across' ? y : x] = jump;
      else inside += jump;
    }
  }
  const mean = inside / (Math.max(1, along - 1) * other);
  return border.map((jump) => (mean > 0 ? jump / mean : jump > 0 ? Infinity : 0));
}
