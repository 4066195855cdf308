import { smoothStep } from '../../image/planes.ts';
import type { BlockValues } from '../inputs/fieldAt.ts';
import type { LayeredTile } from '../surface/layeredSurface.ts';
import type { DustMeasure } from '../stack.ts';
import { TEXELS } from '../surface/texelBlock.ts';
import { breakUp } from './breakUp.ts';

/**
 * Settled dust: as much as a place sees of the sky above it (a map of its own, which already counts how level the surface
 * is), less on slopes steeper than dust lies on, none on edges that wind blows clean.
 * @param sky share of what an open level place sees, 0 to 1
 * @param up direction that is up, in the axes of the mesh
 */
export function dust(
  { amount, angle, softness, blownOff, breakup }: DustMeasure,
  tile: LayeredTile,
  sky: Float32Array,
  curvature: Float32Array | null,
  up: readonly [number, number, number] = [0, 1, 0],
): BlockValues {
  const broken = breakUp(breakup, tile);
  const [ux, uy, uz] = up;
  return (block, out) => {
    const { normals } = block;
    for (let i = 0; i < block.count; i++) {
      const at = block.at[i]!;
      const level = normals[i]! * ux + normals[TEXELS + i]! * uy + normals[TEXELS * 2 + i]! * uz;
      const slope = (Math.acos(Math.max(-1, Math.min(1, level))) * 180) / Math.PI;
      const lies = 1 - smoothStep(angle - softness / 2, angle + softness / 2, slope);
      const edge = curvature && blownOff > 0 ? smoothStep(0.5, 1, 2 * blownOff * Math.max(0, curvature[at]!)) : 0;
      out[i] = Math.min(1, 2 * amount * sky[at]!) * lies * (1 - edge);
    }
    broken?.(block, out);
  };
}
