import type { Image } from '../image/image.ts';
import { extentOf, type Axis } from './overlap.ts';

/**
 * How much a repeated picture shows its border: the mean jump across it over the mean jump between neighbours within.
 * About 1 where the border cannot be told from any other place (own definition); 0 for a picture without any change.
 */
export function tileSeam(image: Image, axis: Axis): number {
  const { width, channels, data } = image;
  const [along, other] = extentOf(image, axis);
  const texel = (i: number, j: number): number => (axis === 'across' ? j * width + i : i * width + j) * channels;
  let [inside, border] = [0, 0];
  for (let j = 0; j < other; j++) {
    for (let i = 0; i < along; i++) {
      const [a, b] = [texel(i, j), texel((i + 1) % along, j)];
      let jump = 0;
      for (let c = 0; c < channels; c++) jump += Math.abs(data[a + c]! - data[b + c]!);
      if (i === along - 1) border += jump;
      else inside += jump;
    }
  }
  const mean = inside / Math.max(1, along - 1);
  return mean > 0 ? border / mean : border > 0 ? Infinity : 0;
}
