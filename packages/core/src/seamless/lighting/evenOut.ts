import type { Image } from '../../image/image.ts';
import { blur } from '../../image/filter/blur.ts';
import { luminance, meanOf, planeLike } from '../../image/planes.ts';
import { resample } from '../../image/filter/resample.ts';
import { castShadowsOf, withoutShadows, type CastShadows } from './castShadows.ts';
import { withoutHighlights } from './highlights.ts';
import { LEAST_LIGHT } from './regions.ts';

/** Light that changes slowly. */
export interface SlowLight {
  /** What is taken as light: changes wider than this, as a share of the shorter side. */
  radius: number;
  /** 0 leaves the light as it is, 1 makes it even. */
  light: number;
  /** The same for the colour of the light. */
  color: number;
}

export interface EvenOptions extends SlowLight {
  /** How much of cast shadows is taken away, 0 to 1. */
  shadows: number;
  /** How much of highlights is taken away, 0 to 1. */
  highlights: number;
}

/**
 * Takes light out of a picture: cast shadows and highlights by regions, and then what changes slowly.
 * @param image samples as light
 * @param findShadows asked only where shadows are taken away; for those that are known already
 */
export function evenOut(
  image: Image,
  options: EvenOptions,
  findShadows: (image: Image) => CastShadows | null = castShadowsOf,
): Image {
  const { shadows, highlights } = options;
  const cast = shadows > 0 ? findShadows(image) : null;
  const lit = cast ? withoutShadows(image, cast, shadows) : image;
  return withoutSlowLight(withoutHighlights(lit, highlights), options);
}

/**
 * What changes slowly is divided out, in light, for brightness and colour apart. The mean of each channel stays what it was.
 */
function withoutSlowLight(image: Image, { radius, light, color }: SlowLight): Image {
  if (light === 0 && color === 0) return image;
  const { channels, data } = image;
  const gains = gainsOf(image, { radius, light, color });
  const colors = channels < 3 ? 1 : 3;
  const result = data.slice();
  const [before, after] = [new Float64Array(colors), new Float64Array(colors)];
  for (let at = 0, gain = 0; at < result.length; at += channels, gain += colors) {
    for (let c = 0; c < colors; c++) {
      const value = data[at + c]!;
      const evened = value * gains[gain + c]!;
      result[at + c] = evened;
      before[c]! += value;
      after[c]! += evened;
    }
  }
  const keep = before.map((sum, c) => (after[c]! > 0 ? sum / after[c]! : 1));
  for (let at = 0; at < result.length; at += channels) {
    for (let c = 0; c < colors; c++) result[at + c]! *= keep[c]!;
  }
  return { ...image, data: result };
}

/** So many texels of the reduced copy make up the width of what is taken as light: it has no detail that could be lost. */
const TEXELS_OF_LIGHT = 6;

/** What each colour is multiplied by, texel by texel. It changes slowly, so that a small copy tells it. */
function gainsOf(image: Image, { radius, light, color }: SlowLight): Float32Array {
  const sigma = (radius * Math.min(image.width, image.height)) / 2;
  const factor = Math.max(1, sigma / TEXELS_OF_LIGHT);
  const size = {
    width: Math.max(1, Math.round(image.width / factor)),
    height: Math.max(1, Math.round(image.height / factor)),
  };
  const small = resample(image, size, 'linear');
  const { channels } = small;
  const colors = channels < 3 ? 1 : 3;
  const bright = luminance(small);
  const mean = Math.max(LEAST_LIGHT, meanOf(bright.data));
  const slow = blur(bright, sigma / factor, 'clamp').data;
  const gains: Image = { ...size, channels: colors, data: new Float32Array(size.width * size.height * colors) };
  for (let c = 0; c < colors; c++) {
    const plane = planeLike(small);
    for (let i = 0; i < plane.data.length; i++) plane.data[i] = small.data[i * channels + c]!;
    const own = colors === 1 || color === 0 ? slow : blur(plane, sigma / factor, 'clamp').data;
    const usual = Math.max(meanOf(plane.data) / mean, 1e-6);
    for (let i = 0; i < plane.data.length; i++) {
      const base = Math.max(LEAST_LIGHT, slow[i]!);
      // How much more of this channel the light had here than it has in the mean.
      const cast = colors === 1 ? 1 : (Math.max(LEAST_LIGHT / 8, own[i]!) / base / usual) ** -color;
      gains.data[i * colors + c] = (mean / base) ** light * cast;
    }
  }
  return resample(gains, image, 'linear').data;
}
