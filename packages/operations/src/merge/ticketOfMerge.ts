import { bakeSettings, DEFAULT_BAKE, type BakeOperationSettings } from '../bake/settings.ts';
import type { MergeSettings } from './settings.ts';

/** Rays need some reach, though none is cast where triangles are shared. */
const ANY_REACH = { out: 1e-3, in: 1e-3 };

/**
 * The bake that makes the maps of a merge: its receivers are the merged meshes, its sources the objects as they were.
 * Each triangle sees its own, whatever stands in the same place.
 */
export const ticketOfMerge = ({ maps, size, padding, samples }: MergeSettings): BakeOperationSettings =>
  bakeSettings.parse({
    ...DEFAULT_BAKE,
    ...{ maps, size, padding, samples, reach: ANY_REACH },
    aim: 'shared',
    prove: false,
  });
