import type { Size } from '../../math/size.ts';
import type { SeamPlace } from '../../measure/seamVisibility.ts';
import { eachTexel, windowOf, type Spot } from './spot.ts';
import { CutSide } from '../cut/minCut.ts';

/** Texels of the shorter side by which places are told to belong to a spot. */
const SIDE = 128;

/**
 * How much each mend of a tile shows: the strength of the worst seam within reach of the brush.
 * @param seams of `seamVisibility`
 * @param tile its proportions
 * @returns a number for each spot: 0 where nothing is seen, else above 1.5
 * @example seamsOfSpots(spots, proof.seams.places, { width: 2048, height: 1024 }) // [0, 2.4]
 */
export function seamsOfSpots(spots: readonly Spot[], seams: readonly SeamPlace[], tile: Size): number[] {
  const scale = SIDE / Math.min(tile.width, tile.height);
  const size = { width: Math.round(tile.width * scale), height: Math.round(tile.height * scale) };
  return spots.map((spot) => {
    const window = windowOf(spot, size);
    const isWithin = new Uint8Array(size.width * size.height);
    eachTexel(window, size, [0, 0], (texel, at) => {
      if (window.side[at] !== CutSide.old) isWithin[texel] = 1;
    });
    const own = seams.filter(({ x, y }) => {
      const [i, j] = [
        Math.min(size.width - 1, Math.floor(x * size.width)),
        Math.min(size.height - 1, Math.floor(y * size.height)),
      ];
      return isWithin[j * size.width + i] === 1;
    });
    return own.reduce((worst, { strength }) => Math.max(worst, strength), 0);
  });
}
