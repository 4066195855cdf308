import type { Image, ValueRange } from './image.ts';
import { linearToSrgb } from '../color/srgb.ts';

export interface Rounding {
  /**
   * Rounds up or down by chance, in proportion to what is left over, so that slow gradients show no steps. Chance
   * depends on nothing but the place of the sample.
   */
  dither?: boolean;
}

/**
 * Rounds samples to whole numbers 0 to 255 or 0 to 65535, half up; values outside the range are clamped and a
 * sample that is not a number becomes 0.
 * @param range the values that become the least and the greatest whole number
 */
export function quantise(data: Float32Array, bits: 8, range?: ValueRange, rounding?: Rounding): Uint8Array;
export function quantise(data: Float32Array, bits: 16, range?: ValueRange, rounding?: Rounding): Uint16Array;
export function quantise(
  data: Float32Array,
  bits: 8 | 16,
  [low, high]: ValueRange = [0, 1],
  { dither = false }: Rounding = {},
): Uint8Array | Uint16Array {
  const top = bits === 8 ? 255 : 65535;
  const result = bits === 8 ? new Uint8Array(data.length) : new Uint16Array(data.length);
  const scale = high > low ? top / (high - low) : 0;
  for (let i = 0; i < data.length; i++) {
    const value = (data[i]! - low) * scale + (dither ? chance(i) : 0.5);
    result[i] = value > 0 ? (value < top ? value : top) : 0;
  }
  return result;
}

/** A number from 0 to 1 for each place: the integer hash of Wang (2007), as Burley (2020) uses it. */
function chance(index: number): number {
  let x = index | 0;
  x = x ^ 61 ^ (x >>> 16);
  x = Math.imul(x, 9);
  x ^= x >>> 4;
  x = Math.imul(x, 0x27d4eb2d);
  x ^= x >>> 15;
  return (x >>> 0) / 2 ** 32;
}

/** The samples of an image as whole numbers: its range stretched, through the sRGB curve where it asks for it. */
export function quantised(image: Image, bits: 8, rounding?: Rounding): Uint8Array;
export function quantised(image: Image, bits: 16, rounding?: Rounding): Uint16Array;
export function quantised(image: Image, bits: 8 | 16, rounding?: Rounding): Uint8Array | Uint16Array {
  const { data, channels, colorSpace, range = [0, 1] } = image;
  const isAlpha = (i: number): boolean => channels === 4 && i % 4 === 3;
  let shown = data;
  // Alpha is 0 to 1 whatever the colours are.
  if (colorSpace === 'srgb') shown = data.map((value, i) => (isAlpha(i) ? value : linearToSrgb(value)));
  else if (channels === 4) {
    shown = data.map((value, i) => (isAlpha(i) ? range[0] + value * (range[1] - range[0]) : value));
  }
  return bits === 8 ? quantise(shown, 8, range, rounding) : quantise(shown, 16, range, rounding);
}
