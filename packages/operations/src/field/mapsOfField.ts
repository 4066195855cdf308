import { adjust } from '@zographos/core/adjust';
import type { Border, Image } from '@zographos/core/image';
import { coloured } from '@zographos/core/pattern';
import type { FlatMap } from '../flat/flatMap.ts';
import type { FieldSettings } from './settings.ts';

/** The maps of a field that was drawn. */
export function mapsOfField(settings: FieldSettings, field: Image): FlatMap[] {
  const border: Border = settings.wrap === 'torus' || settings.wrap === 'flat-torus' ? 'repeat' : 'clamp';
  return settings.maps.map(({ kind, ramp }) => {
    const image = ramp ? coloured(field, ramp) : { ...field, data: field.data.slice() };
    return { kind, image: adjust(image, settings.adjust[kind] ?? [], border) };
  });
}
