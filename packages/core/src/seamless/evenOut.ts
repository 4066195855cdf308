import type { Image } from '../image/image.ts';
import { blur } from '../image/blur.ts';
import { luminance, meanOf, planeLike } from '../image/planes.ts';

export interface EvenOptions {
  /** What is taken as light: changes wider than this, as a share of the shorter side. */
  radius: number;
  /** 0 leaves the light as it is, 1 makes it even. */
  light: number;
  /** The same for the colour of the light. */
  color: number;
}

/** Light as small as this is taken for none, lest dark places be blown up. */
const LEAST = 1 / 512;

/**
 * Takes uneven light out of a picture: what changes slowly is divided out, in light, for brightness and colour apart.
 * The mean of each channel stays what it was.
 * @param image samples as light
 */
export function evenOut(image: Image, { radius, light, color }: EvenOptions): Image {
  if (light === 0 && color === 0) return image;
  const { channels, data } = image;
  const sigma = (radius * Math.min(image.width, image.height)) / 2;
  const bright = luminance(image);
  const slow = blur(bright, sigma, 'clamp');
  const mean = Math.max(LEAST, meanOf(bright.data));
  const colors = channels < 3 ? 1 : 3;
  const result = data.slice();
  for (let c = 0; c < colors; c++) {
    const plane = planeLike(image);
    for (let i = 0; i < plane.data.length; i++) plane.data[i] = data[i * channels + c]!;
    const own = colors === 1 || color === 0 ? slow : blur(plane, sigma, 'clamp');
    const ownMean = meanOf(plane.data);
    const usual = ownMean / mean;
    let sum = 0;
    for (let i = 0; i < plane.data.length; i++) {
      const base = Math.max(LEAST, slow.data[i]!);
      const gain = (mean / base) ** light;
      // How much more of this channel the light had here than it has in the mean.
      const cast = colors === 1 ? 1 : (Math.max(LEAST / 8, own.data[i]!) / base / Math.max(usual, 1e-6)) ** -color;
      const value = data[i * channels + c]! * gain * cast;
      result[i * channels + c] = value;
      sum += value;
    }
    const keep = sum > 0 ? (ownMean * plane.data.length) / sum : 1;
    for (let i = c; i < result.length; i += channels) result[i]! *= keep;
  }
  return { ...image, data: result };
}
