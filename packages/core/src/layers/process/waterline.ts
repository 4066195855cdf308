import { fieldAt, type BlockValues } from '../inputs/fieldAt.ts';
import type { LayeredTile } from '../surface/layeredSurface.ts';
import type { WaterlineMeasure } from '../stack.ts';
import { TEXELS } from '../surface/texelBlock.ts';
import { unit } from '../surface/direction.ts';

/** Below a level along an axis: 1 under the ragged edge, fading to 0 over a band above it. */
export function waterline(
  { axis, level, ragged, raggedSize, band, seed }: WaterlineMeasure,
  tile: LayeredTile,
): BlockValues {
  const [ax, ay, az] = unit(axis);
  const waves =
    ragged > 0
      ? fieldAt(
          {
            noise: 'gradient-noise',
            size: Math.max(0.1, raggedSize),
            octaves: 5,
            style: 'smooth',
            levels: [0, 1],
            seed,
          },
          tile,
        )
      : null;
  const field = new Float32Array(TEXELS);
  // At least a texel, so that a clean edge is not a staircase.
  const fades = Math.max(band, tile.texel);
  return (block, out) => {
    waves?.(block, field);
    const [x, y, z] = block.places;
    for (let i = 0; i < block.count; i++) {
      const above = x[i]! * ax + y[i]! * ay + z[i]! * az - level - (waves ? (field[i]! * 2 - 1) * ragged : 0);
      out[i] = Math.max(0, Math.min(1, 1 - above / fades));
    }
  };
}
