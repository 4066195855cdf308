import { blur } from '../image/filter/blur.ts';
import type { Image } from '../image/image.ts';
import { planeLike } from '../image/planes.ts';
import type { Border } from '../image/filter/resample.ts';
import { divergence, slopes } from './slopes.ts';

/**
 * Mean curvature of a height field, half the divergence of its unit normal: above 0 where it bulges, 1/r on a sphere of
 * radius r, in 1 / tile widths (differential geometry).
 * @param depth how high white lies over black, in tile widths
 * @param width of what is smoothed over beforehand, in tile widths
 */
export function curvatureFromHeight(height: Image, depth: number, width: number, border: Border): Image {
  const smooth = blur(height, width * height.width, border);
  const scale = depth * height.width;
  const { across, down } = slopes(smooth, 'Scharr', border);
  // The slopes become the normal's, in place.
  for (let i = 0; i < across.length; i++) {
    const sx = across[i]! * scale;
    const sy = down[i]! * scale;
    const length = Math.sqrt(sx * sx + sy * sy + 1);
    across[i] = -sx / length;
    down[i] = -sy / length;
  }
  const spread = divergence(planeLike(height, across), planeLike(height, down), 'Scharr', border);
  for (let i = 0; i < spread.length; i++) spread[i]! *= height.width / 2;
  return planeLike(height, spread);
}

/**
 * Edges and grooves of a height field as grey: above one half where it bulges, below where it is hollow.
 * @param radius the radius of a bulge that is white, in tile widths
 */
export function edgesFromHeight(
  height: Image,
  { depth, width, radius }: { depth: number; width: number; radius: number },
  border: Border,
): Image {
  const curvature = curvatureFromHeight(height, depth, width, border);
  for (let i = 0; i < curvature.data.length; i++) {
    curvature.data[i] = Math.max(0, Math.min(1, 0.5 + 0.5 * curvature.data[i]! * radius));
  }
  return curvature;
}

/**
 * Cavities of a height field: 1 where a place lies no deeper than what is about it, less the deeper it lies.
 * @param width of what counts as about it, in tile widths @param strength 1 makes a place black that lies as deep as half that
 */
export function cavityFromHeight(
  height: Image,
  { depth, width, strength }: { depth: number; width: number; strength: number },
  border: Border,
): Image {
  const about = blur(height, width * height.width, border);
  const scale = (strength * depth) / (width / 2);
  const cavity = planeLike(height);
  for (let i = 0; i < cavity.data.length; i++) {
    cavity.data[i] = 1 - Math.max(0, Math.min(1, (about.data[i]! - height.data[i]!) * scale));
  }
  return cavity;
}
