import { LUMINANCE } from '../../color/luminance.ts';
import type { Image } from '../../image/image.ts';
import { smoothStep } from '../../image/planes.ts';
import { resample } from '../../image/filter/resample.ts';
import { reduced, REGION_SIDE, regionsOf } from './regions.ts';

/** Squared sines between the colour of a region and white: below the first it is grey, from the second on its colour tells. */
const [GREY, COLORFUL] = [0.002, 0.02];
/** How much brighter than its region a place of it may be before that counts as a highlight; less where colour tells. */
const BRIGHTER = 1.15;
const MUCH_BRIGHTER = 1.8;

/**
 * Takes highlights out of a picture: what a place has of the light's own colour, white, beside the colour of its region
 * (the dichromatic reflection model: Shafer, "Using Color to Separate Reflection Components", 1985). Where the ground is as
 * grey as the light, only what is much brighter than its region counts.
 * @param image colours, samples as light
 * @param strength 0 leaves highlights, 1 takes them away
 */
export function withoutHighlights(image: Image, strength: number): Image {
  const { channels } = image;
  if (channels < 3 || strength === 0) return image;
  const { bright, red, blue } = regionsOf(reduced(image, REGION_SIDE));
  const [brights, reds, blues] = [bright, red, blue].map((plane) => resample(plane, image, 'linear').data) as [
    Float32Array,
    Float32Array,
    Float32Array,
  ];
  const data = image.data.slice();
  for (let i = 0, at = 0; i < brights.length; i++, at += channels) {
    const [r, g, b] = [data[at]!, data[at + 1]!, data[at + 2]!];
    const usual = Math.exp(brights[i]!);
    const light = LUMINANCE[0] * r + LUMINANCE[1] * g + LUMINANCE[2] * b;
    if (light <= usual * BRIGHTER) continue;
    // The colour of the ground, and how much of it and of white make up the texel (least squares).
    const [dr, db] = [Math.exp(reds[i]!), Math.exp(blues[i]!)];
    const square = dr * dr + 1 + db * db;
    const sum = dr + 1 + db;
    const apart = 1 - (sum * sum) / (3 * square);
    const along = dr * r + g + db * b;
    const tells = smoothStep(GREY, COLORFUL, apart);
    const white = tells > 0 ? Math.max(0, (r + g + b - (sum * along) / square) / (3 * apart)) : 0;
    const excess = Math.max(0, light - usual * MUCH_BRIGHTER);
    // No more than what is brighter than the region, nor than the least of its channels.
    const most = Math.min(light - usual, r, g, b);
    const gone = strength * Math.max(0, Math.min(most, tells * white + (1 - tells) * excess));
    for (let c = 0; c < 3; c++) data[at + c]! -= gone;
  }
  return { ...image, data };
}
