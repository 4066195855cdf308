import { MapDeriver } from '@zographos/core/derive';
import { describeKind, type Image } from '@zographos/core/image';
import { requirePicture, type FlatMap, type FlatWatch } from '../flat/flatMap.ts';
import { throwIfCancelled } from '../runContext.ts';
import type { DeriveSettings } from './settings.ts';

/** The maps of a material, one after the other. @param pictures the first is derived from, as light @throws run/cancelled */
export function deriveOnOneThread(settings: DeriveSettings, pictures: readonly Image[], watch: FlatWatch): FlatMap[] {
  const deriver = new MapDeriver(requirePicture(pictures, 0), settings.from, settings.repeats);
  return settings.maps.map((kind, i) => {
    throwIfCancelled(watch.cancelFlag);
    watch.onProgress({
      stage: 'trace',
      share: i / settings.maps.length,
      secondsLeft: null,
      note: describeKind(kind).phrase,
    });
    return { kind, image: deriver.make(kind, settings) };
  });
}
