import { smoothStep } from '../../image/planes.ts';
import type { BlockValues } from '../inputs/fieldAt.ts';
import type { LayeredTile } from '../surface/layeredSurface.ts';
import type { WearMeasure } from '../stack.ts';
import { breakUp } from './breakUp.ts';

/**
 * Wear: rubbed where edges are convex and open. An edge rounded with radius ρ has the mean curvature 1 / 2ρ, so 2 · H · r
 * passes 1 where an edge is sharper than the radius r that rubbing makes; occlusion shelters.
 * @param curvature mean curvature of each texel of the tile in 1/mm, above 0 where convex
 * @param occlusion 1 where all is open
 */
export function wear(
  { radius, hardness, sheltered, breakup }: WearMeasure,
  tile: LayeredTile,
  curvature: Float32Array,
  occlusion: Float32Array | null,
): BlockValues {
  const low = hardness * 0.98;
  const broken = breakUp(breakup, tile);
  return (block, out) => {
    for (let i = 0; i < block.count; i++) {
      const at = block.at[i]!;
      const sharpness = 2 * radius * Math.max(0, curvature[at]!);
      const open = occlusion ? 1 - sheltered * (1 - occlusion[at]!) : 1;
      out[i] = smoothStep(low, 1, sharpness * open);
    }
    broken?.(block, out);
  };
}
