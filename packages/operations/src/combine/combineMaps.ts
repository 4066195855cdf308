import { adjust } from '@zographos/core/adjust';
import { combineImages } from '@zographos/core/combine';
import { meaningOf, type Border, type Image, type MapKind } from '@zographos/core/image';
import type { FlatMap } from '../flat/flatMap.ts';
import type { CombineSettings } from './settings.ts';

/**
 * One map of a ticket that combines.
 * @param images of the ticket, as light
 * @throws input/bad-settings for an image that is missing
 */
export function combinedMap(settings: CombineSettings, images: readonly Image[], kind: MapKind): FlatMap {
  const { maps, size, repeats } = settings;
  const { layers } = maps.find((map) => map.kind === kind)!;
  const border: Border = repeats ? 'repeat' : 'clamp';
  const combined = combineImages(images, { kind, layers, size, border });
  return { kind, image: { ...adjust(combined, settings.adjust[kind] ?? [], border), ...meaningOf(combined) } };
}
