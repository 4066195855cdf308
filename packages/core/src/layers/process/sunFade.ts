import { smoothStep } from '../../image/planes.ts';
import type { BlockValues } from '../inputs/fieldAt.ts';
import type { LayeredTile } from '../surface/layeredSurface.ts';
import type { SunFadeMeasure } from '../stack.ts';
import { breakUp } from './breakUp.ts';

/**
 * Sun fade: as much as a place gets of the sun over its path, which is a map of its own.
 * @param sun share of what a surface gets that always faces the sun, 0 to 1
 */
export function sunFade(
  { amount, threshold, breakup }: SunFadeMeasure,
  tile: LayeredTile,
  sun: Float32Array,
): BlockValues {
  const broken = breakUp(breakup, tile);
  return (block, out) => {
    for (let i = 0; i < block.count; i++) {
      out[i] = smoothStep(threshold, Math.max(threshold + 1e-3, 1), 2 * amount * sun[block.at[i]!]!);
    }
    broken?.(block, out);
  };
}
