import type { Reach } from './settings.ts';

export const DISTANCE_BINS = 64;

/** Counts kept while baking. Only whole numbers are summed, so the order of the blocks cannot matter. */
export interface BakeStatistics {
  rays: number;
  /** Rays that met nothing within reach. */
  misses: number;
  /** Hits on the back of a triangle (only where back faces are accepted). */
  hitsFromBehind: number;
  texels: {
    covered: number;
    /** Covered texels none of whose rays hit. */
    missed: number;
    /** Texels claimed by more than one triangle. */
    overlapping: number;
  };
  /** Hits by signed distance from the receiver's surface, from −reach.in (first bin) to +reach.out (last). */
  hitDistances: number[];
}

export function emptyStatistics(): BakeStatistics {
  return {
    rays: 0,
    misses: 0,
    hitsFromBehind: 0,
    texels: { covered: 0, missed: 0, overlapping: 0 },
    hitDistances: new Array<number>(DISTANCE_BINS).fill(0),
  };
}

export function addStatistics(sum: BakeStatistics, part: BakeStatistics): void {
  sum.rays += part.rays;
  sum.misses += part.misses;
  sum.hitsFromBehind += part.hitsFromBehind;
  sum.texels.covered += part.texels.covered;
  sum.texels.missed += part.texels.missed;
  sum.texels.overlapping += part.texels.overlapping;
  for (let b = 0; b < DISTANCE_BINS; b++) sum.hitDistances[b]! += part.hitDistances[b]!;
}

/** The bin of a hit `height` mesh units above the receiver's surface (negative: below). */
export function distanceBin(height: number, reach: Reach): number {
  const share = (height + reach.in) / (reach.in + reach.out);
  return Math.max(0, Math.min(DISTANCE_BINS - 1, Math.floor(share * DISTANCE_BINS)));
}
