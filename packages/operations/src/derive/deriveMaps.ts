import { setImmediate as nextTurn } from 'node:timers/promises';
import { MapDeriver } from '@zographos/core/derive';
import { describeKind, type Image } from '@zographos/core/image';
import { requirePicture, type FlatMap, type FlatWatch } from '../flat/flatMap.ts';
import { throwIfCancelled } from '../runContext.ts';
import type { DeriveSettings } from './settings.ts';

/**
 * Makes the maps of a material, one after the other, each on all threads of the kernel's team.
 * @param pictures the first is derived from, as light
 * @param put takes each map as soon as it is made
 * @throws run/cancelled, run/failed
 */
export async function deriveMaps(
  settings: DeriveSettings,
  pictures: readonly Image[],
  { cancelFlag, onProgress }: FlatWatch,
  put: (map: FlatMap) => Promise<void>,
): Promise<void> {
  const deriver = new MapDeriver(requirePicture(pictures, 0), settings.from, settings.repeats);
  let done = 0;
  for (const { kind, make } of deriver.makeAll(settings.maps, settings)) {
    const share = done++ / settings.maps.length;
    onProgress({ stage: 'trace', share, secondsLeft: null, note: describeKind(kind).phrase });
    // Whoever wants to stop it from this thread is heard between two maps.
    await nextTurn();
    throwIfCancelled(cancelFlag);
    await put({ kind, image: make() });
  }
}
