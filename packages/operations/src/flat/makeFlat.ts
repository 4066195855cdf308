import type { Image } from '@zographos/core/image';
import type { PictureMeaning } from './adjustments.ts';
import type { FlatKind, OperationSettings } from '../registry.ts';
import type { RunResources } from '../context.ts';
import { deriveMaps } from '../derive/deriveMaps.ts';
import { drawField } from '../field/drawField.ts';
import { refuseFlatBeyondMemory, requirePicture, runSeamless, tileMakerOf, type FlatMap } from './runFlat.ts';

/** What a ticket of flat material asks for. */
export type FlatWork = { [Kind in FlatKind]: { operation: Kind; settings: OperationSettings[Kind] } }[FlatKind];

/** What the pictures of a ticket hold, in their order. */
export function meaningsOf(work: FlatWork): readonly PictureMeaning[] {
  if (work.operation === 'seamless') return work.settings.pictures;
  return work.operation === 'derive' ? [work.settings.picture] : [];
}

/**
 * Makes the maps of a ticket of flat material at full size.
 * @param pictures as light, in its order
 * @throws limit/memory before anything is computed, input/bad-settings, run/cancelled, run/failed
 */
export async function makeFlat(
  work: FlatWork,
  pictures: readonly Image[],
  resources: RunResources,
): Promise<FlatMap[]> {
  const { operation, settings } = work;
  const size = operation === 'derive' ? requirePicture(pictures, 0) : settings.size;
  const maps = operation === 'seamless' ? settings.pictures.length : settings.maps.length;
  refuseFlatBeyondMemory(operation, size, maps, resources);
  if (operation === 'seamless') return runSeamless(settings, tileMakerOf(settings, pictures), resources);
  return operation === 'derive' ? deriveMaps(settings, pictures, resources) : drawField(settings, resources);
}
