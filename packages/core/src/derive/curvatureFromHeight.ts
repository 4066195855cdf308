import { blur } from '../image/filter/blur.ts';
import type { Image } from '../image/image.ts';
import { planeLike } from '../image/planes.ts';
import type { Border } from '../image/filter/resample.ts';
import { kernelTeam } from '../kernel/kernelTeam.ts';
import { divergence, slopes } from './slopes.ts';
import { curvatureInKernel, type CurvatureScale } from './slopesInKernel.ts';

/**
 * Mean curvature of a height field, half the divergence of its unit normal: above 0 where it bulges, 1/r on a sphere of
 * radius r, in 1 / tile widths (differential geometry).
 * @param depth how high white lies over black, in tile widths
 * @param width of what is smoothed over beforehand, in tile widths
 */
export const curvatureFromHeight = (height: Image, depth: number, width: number, border: Border): Image =>
  scaledCurvature(height, depth, width, border, { times: height.width, plus: 0, isKept: false });

function scaledCurvature(height: Image, depth: number, width: number, border: Border, scale: CurvatureScale): Image {
  const smooth = blur(height, width * height.width, border);
  const slope = depth * height.width;
  const team = kernelTeam();
  if (team) return planeLike(height, curvatureInKernel(team, smooth, slope, border, scale));
  const { across, down } = slopes(smooth, 'Scharr', border);
  // The slopes become the normal's, in place.
  for (let i = 0; i < across.length; i++) {
    const sx = across[i]! * slope;
    const sy = down[i]! * slope;
    const length = Math.sqrt(sx * sx + sy * sy + 1);
    across[i] = -sx / length;
    down[i] = -sy / length;
  }
  const spread = divergence(planeLike(height, across), planeLike(height, down), 'Scharr', border);
  const { times, plus, isKept } = scale;
  for (let i = 0; i < spread.length; i++) {
    const curvature = (spread[i]! / 2) * times + plus;
    spread[i] = isKept ? Math.max(0, Math.min(1, curvature)) : curvature;
  }
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
  const times = 0.5 * height.width * radius;
  return scaledCurvature(height, depth, width, border, { times, plus: 0.5, isKept: true });
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
  // What was made here is written over: fresh memory costs more than the sum.
  const cavity = about === height ? planeLike(height) : about;
  const scale = (strength * depth) / (width / 2);
  for (let i = 0; i < cavity.data.length; i++) {
    cavity.data[i] = 1 - Math.max(0, Math.min(1, (about.data[i]! - height.data[i]!) * scale));
  }
  return cavity;
}
