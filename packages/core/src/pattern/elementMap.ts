import { idColors } from '../color/idColors.ts';
import type { Size } from '../math/size.ts';
import type { Image } from '../image/image.ts';
import { elementRandom } from './shapes/elements.ts';

const SHADE = 9;

/** A grey of its own for each element of a pattern, 0 to 1, at random. */
export function elementShades(elements: Uint32Array, size: Size): Image {
  return { ...size, channels: 1, data: Float32Array.from(elements, (element) => elementRandom(element, SHADE, 0)) };
}

/**
 * A colour of its own for each element of a pattern, as light: those of `idColors` in the order of their numbers.
 * @param elements of each texel
 */
export function elementColors(elements: Uint32Array, size: Size): Image {
  const numbers = Uint32Array.from(new Set(elements)).sort();
  const rank = new Map(Array.from(numbers, (element, i) => [element, i]));
  const colors = idColors(numbers.length);
  const data = new Float32Array(elements.length * 3);
  for (let i = 0; i < elements.length; i++) {
    const from = rank.get(elements[i]!)! * 3;
    for (let c = 0; c < 3; c++) data[i * 3 + c] = colors[from + c]!;
  }
  return { ...size, channels: 3, data, colorSpace: 'srgb' };
}
