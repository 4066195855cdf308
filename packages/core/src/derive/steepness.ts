import type { Image } from '../image/image.ts';
import { resample, type Border } from '../image/filter/resample.ts';
import { isSameSize, sizeWithin } from '../math/size.ts';
import { slopes } from './slopes.ts';

/** Slopes are measured at so many texels of the longer side, so that a height has one steepness whatever its resolution. */
const SIDE = 512;
/** The share of places that may be steeper: edges of single texels and noise. */
const STEEPER = 0.02;

/**
 * How steep a height field is: the slope that only one place in fifty exceeds.
 * @param height one channel, 0 to 1
 * @returns per tile width and unit of height: multiplied by a depth in tile widths it is the tangent of an angle; 0 for a
 * level field
 * @example Math.atan(steepnessOf(height, 'repeat') * 0.02) // the angle of its steep slopes at a depth of 2 %
 */
export function steepnessOf(height: Image, border: Border): number {
  const size = sizeWithin(height, SIDE);
  const small = isSameSize(size, height) ? height : resample(height, size, 'linear', border);
  const { across, down } = slopes(small, 'Scharr', border);
  const steep = across.map((slope, i) => Math.hypot(slope, down[i]!)).sort();
  return steep[Math.floor((steep.length - 1) * (1 - STEEPER))]! * small.width;
}

/** No relief that is told by its steepness alone is deeper than this, in tile widths: a level picture has none at any depth. */
export const MOST_DEPTH = 0.05;

/**
 * The depth at which a height field is so steep.
 * @param degrees above 0 and below 90
 * @returns in tile widths
 */
export function depthOfSteepness(height: Image, degrees: number, border: Border): number {
  const steepness = steepnessOf(height, border);
  return steepness > 0 ? Math.min(MOST_DEPTH, Math.tan((degrees * Math.PI) / 180) / steepness) : MOST_DEPTH;
}
