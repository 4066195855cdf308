import type { Image, ValueRange } from './image.ts';
import { linearToSrgb } from './srgb.ts';

/**
 * Rounds samples to whole numbers 0 to 255 or 0 to 65535, half up; values outside the range are clamped and a
 * sample that is not a number becomes 0.
 * @param range the values that become the least and the greatest whole number
 */
export function quantise(data: Float32Array, bits: 8, range?: ValueRange): Uint8Array;
export function quantise(data: Float32Array, bits: 16, range?: ValueRange): Uint16Array;
export function quantise(data: Float32Array, bits: 8 | 16, [low, high]: ValueRange = [0, 1]): Uint8Array | Uint16Array {
  const top = bits === 8 ? 255 : 65535;
  const result = bits === 8 ? new Uint8Array(data.length) : new Uint16Array(data.length);
  const scale = high > low ? top / (high - low) : 0;
  for (let i = 0; i < data.length; i++) {
    const value = (data[i]! - low) * scale + 0.5;
    result[i] = value > 0 ? (value < top ? value : top) : 0;
  }
  return result;
}

/** The samples of an image as whole numbers: its range stretched, through the sRGB curve where it asks for it. */
export function quantised(image: Image, bits: 8): Uint8Array;
export function quantised(image: Image, bits: 16): Uint16Array;
export function quantised(image: Image, bits: 8 | 16): Uint8Array | Uint16Array {
  const { data, channels, colorSpace, range } = image;
  const shown =
    colorSpace === 'srgb'
      ? data.map((value, i) => (channels === 4 && i % 4 === 3 ? value : linearToSrgb(value)))
      : data;
  return bits === 8 ? quantise(shown, 8, range) : quantise(shown, 16, range);
}
