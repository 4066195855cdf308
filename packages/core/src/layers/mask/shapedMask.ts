import { forEachNearest, padIslands } from '../../bake/finish/padding.ts';
import { blur } from '../../image/filter/blur.ts';
import { TexelState } from '../../image/image.ts';
import type { LayeredTile } from '../surface/layeredSurface.ts';
import type { MaskShaping } from '../stack.ts';

/**
 * Grows or shrinks a mask and blurs it, over the layout. What lies beyond islands counts as their nearest texel, so that
 * nothing bleeds in from empty room.
 * @param plane a value for each texel of the tile, changed in place
 * @param states which texels are covered; not changed
 */
export function shapeMask(
  plane: Float32Array,
  states: Uint8Array,
  { grow, blur: soft }: MaskShaping,
  tile: LayeredTile,
): void {
  const { size, texel, surface } = tile;
  const { width, height } = size;
  const radius = Math.abs(grow) / texel;
  const sigma = soft / texel;
  const image = { width, height, channels: 1, data: plane };
  padIslands([image], states.slice(), Math.ceil(radius + 3 * sigma + 2));
  if (grow !== 0) growPlane(plane, width, height, radius, grow < 0);
  if (sigma > 0) plane.set(blur(image, sigma, surface.repeats ? 'repeat' : 'clamp').data);
}

/** Distances are those between texel centres; the edge moves by parts of a texel too. */
function growPlane(plane: Float32Array, width: number, height: number, radius: number, shrinks: boolean): void {
  const states = new Uint8Array(plane.length);
  for (let i = 0; i < plane.length; i++) {
    if (shrinks ? plane[i]! < 0.5 : plane[i]! >= 0.5) states[i] = TexelState.covered;
  }
  const before = plane.slice();
  forEachNearest(width, height, states, (at, _nearest, squaredDistance) => {
    const reached = Math.max(0, Math.min(1, radius + 0.5 - Math.sqrt(squaredDistance)));
    plane[at] = shrinks ? Math.min(before[at]!, 1 - reached) : Math.max(before[at]!, reached);
  });
}
