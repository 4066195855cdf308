import { asTrims, inRows, onShelves, type Placement } from '@zographos/core/atlas';
import { ZographosError } from '@zographos/core/errors';
import type { AtlasSettings } from './settings.ts';

export const gutterOf = ({ halvings }: Pick<AtlasSettings, 'halvings'>): number =>
  halvings === null ? 0 : 2 ** halvings;

/**
 * Where each set lies in an atlas.
 * @throws limit/packing when they do not fit; input/bad-settings when places of the artist's own reach over the edge or
 * over each other
 */
export function atlasPlaces(settings: Omit<AtlasSettings, 'name'>): Placement[] {
  const { sets, size, arrangement, resample } = settings;
  const gutter = gutterOf(settings);
  if (Array.isArray(arrangement)) return ofOwn(arrangement, settings);
  if (arrangement === 'trims') return asTrims(sets, size, gutter);
  if (!resample) return (arrangement === 'rows' ? inRows : onShelves)(sets, size, gutter);
  const columns = Math.ceil(Math.sqrt(sets.length));
  const cell = Math.floor(Math.min(size.width, size.height) / columns);
  const side = cell - 2 * gutter;
  if (side < 1) return (arrangement === 'rows' ? inRows : onShelves)(sets, size, gutter);
  return sets.map(({ width, height }, i) => {
    const scale = side / Math.max(width, height);
    return {
      x: (i % columns) * cell + gutter,
      y: Math.floor(i / columns) * cell + gutter,
      width: Math.max(1, Math.round(width * scale)),
      height: Math.max(1, Math.round(height * scale)),
    };
  });
}

function ofOwn(places: readonly Placement[], { sets, size, resample }: Omit<AtlasSettings, 'name'>): Placement[] {
  const refuse = (text: string): never => {
    throw new ZographosError('input/bad-settings', text);
  };
  if (places.length !== sets.length) {
    refuse(`There are ${sets.length} image sets and ${places.length} places. Give each a place.`);
  }
  places.forEach((place, i) => {
    const { name, width, height } = sets[i]!;
    if (place.x + place.width > size.width || place.y + place.height > size.height) {
      refuse(`“${name}” reaches over the edge of the atlas. Move it, or take a larger atlas.`);
    }
    if (!resample && !place.across && (place.width !== width || place.height !== height)) {
      refuse(
        `“${name}” has ${width} × ${height} px and a place of ${place.width} × ${place.height}. Let it be resampled.`,
      );
    }
    const other = places.findIndex(
      (each, k) =>
        k < i &&
        each.x < place.x + place.width &&
        place.x < each.x + each.width &&
        each.y < place.y + place.height &&
        place.y < each.y + each.height,
    );
    if (other >= 0) refuse(`“${name}” lies on “${sets[other]!.name}”. Move one of them.`);
  });
  return [...places];
}
