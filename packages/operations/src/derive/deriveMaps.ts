import { setImmediate as nextTurn } from 'node:timers/promises';
import { MapDeriver } from '@zographos/core/derive';
import { describeKind, type Image } from '@zographos/core/image';
import { requirePicture, type FlatMap, type FlatWatch } from '../flat/flatMap.ts';
import { throwIfCancelled } from '../runContext.ts';
import type { DeriveSettings } from './settings.ts';

/**
 * The maps of a material, one after the other, each on all threads of the kernel's team.
 * @param pictures the first is derived from, as light
 * @throws run/cancelled, run/failed
 */
export async function deriveMaps(
  settings: DeriveSettings,
  pictures: readonly Image[],
  { cancelFlag, onProgress }: FlatWatch,
): Promise<FlatMap[]> {
  const deriver = new MapDeriver(requirePicture(pictures, 0), settings.from, settings.repeats);
  const made: FlatMap[] = [];
  for (const kind of settings.maps) {
    const share = made.length / settings.maps.length;
    onProgress({ stage: 'trace', share, secondsLeft: null, note: describeKind(kind).phrase });
    // Whoever wants to stop it from this thread is heard between two maps.
    await nextTurn();
    throwIfCancelled(cancelFlag);
    made.push({ kind, image: deriver.make(kind, settings) });
  }
  return made;
}
