import type { MapRevision } from '@zographos/contracts';

/** The maps of one tile that a model wears. */
export interface WornMaps {
  tile: number;
  normal: MapRevision | null;
  occlusion: MapRevision | null;
  chosen: MapRevision | null;
}
