import { screenByte } from '@zographos/core/color';
import type { Image } from '@zographos/core/image';

/** An image as it is seen: 8-bit sRGB of its samples, which come as light unless they are data. */
export function seenPixels({ width, height, channels, data }: Image, isLight: boolean): ImageData {
  const pixels = new ImageData(width, height);
  const byte = (value: number): number =>
    isLight ? screenByte(value) : Math.round(255 * Math.max(0, Math.min(1, value)));
  for (let i = 0; i < width * height; i++) {
    for (let k = 0; k < 3; k++) pixels.data[i * 4 + k] = byte(data[i * channels + (channels > 2 ? k : 0)]!);
    pixels.data[i * 4 + 3] = channels === 4 || channels === 2 ? Math.round(255 * data[(i + 1) * channels - 1]!) : 255;
  }
  return pixels;
}

/**
 * The colour of a place, as the mean of 3 × 3 pixels: single ones are mostly noise.
 * @param u, v shares of the width and the height, from the upper left
 * @returns `#rrggbb`
 * @example colorAt(pixels, 0.5, 0.5) // '#8f3b2a'
 */
export function colorAt({ width, height, data }: ImageData, u: number, v: number): string {
  const [column, row] = [Math.floor(u * width), Math.floor(v * height)];
  const sum = [0, 0, 0];
  let count = 0;
  for (let y = Math.max(0, row - 1); y <= Math.min(height - 1, row + 1); y++) {
    for (let x = Math.max(0, column - 1); x <= Math.min(width - 1, column + 1); x++) {
      for (let k = 0; k < 3; k++) sum[k]! += data[(y * width + x) * 4 + k]!;
      count++;
    }
  }
  return `#${sum
    .map((value) =>
      Math.round(value / count)
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')}`;
}
