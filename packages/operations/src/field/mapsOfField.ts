import { adjust } from '@zographos/core/adjust';
import { describeKind, type Border, type Image } from '@zographos/core/image';
import { coloured, elementColors, elementShades } from '@zographos/core/pattern';
import type { FlatMap } from '../flat/flatMap.ts';
import type { FieldSettings } from './settings.ts';

/** Whether any map shows elements, so that their numbers are needed. */
export const showsElements = ({ maps }: FieldSettings): boolean => maps.some(({ shows }) => shows === 'elements');

/**
 * The maps of a field that was drawn.
 * @param elements numbers of its elements, where any map shows them
 */
export function mapsOfField(settings: FieldSettings, field: Image, elements: Uint32Array | null): FlatMap[] {
  const border: Border = settings.wrap === 'torus' || settings.wrap === 'flat-torus' ? 'repeat' : 'clamp';
  return settings.maps.map(({ kind, ramp, shows }) => {
    const isById = shows === 'elements' && elements !== null;
    if (isById && !ramp && describeKind(kind).channels === 3) return { kind, image: elementColors(elements, field) };
    const own = isById ? elementShades(elements, field) : field;
    const image = ramp ? coloured(own, ramp) : { ...own, data: own.data.slice() };
    return { kind, image: adjust(image, settings.adjust[kind] ?? [], border) };
  });
}
