import type { LayersSettings } from './settings.ts';

/**
 * The images that an artist has chosen for layers, which come first among those of a ticket; what is measured and what
 * materials are made of is filled in behind them.
 */
export function chosenPictures(
  { measured, materials }: Pick<LayersSettings, 'measured' | 'materials'>,
  pictures: readonly string[],
): string[] {
  const filledIn = [...measured.map(({ picture }) => picture), ...materials.flatMap(({ maps }) => Object.values(maps))];
  return pictures.slice(0, Math.min(pictures.length, ...filledIn));
}

/**
 * With an image among those that layers can use; it stays where it is if it is there already.
 * @returns its number, and the settings and images of the ticket with it
 * @example withPicture(settings, ['a', 'map'], 'b') // number 1, pictures ['a', 'b', 'map']
 */
export function withPicture(
  settings: LayersSettings,
  pictures: readonly string[],
  id: string,
): { number: number; settings: LayersSettings; pictures: string[] } {
  const chosen = chosenPictures(settings, pictures);
  const known = chosen.indexOf(id);
  if (known >= 0) return { number: known, settings, pictures: [...pictures] };
  const number = chosen.length;
  const moved = (picture: number): number => (picture >= number ? picture + 1 : picture);
  return {
    number,
    settings: {
      ...settings,
      measured: settings.measured.map((map) => ({ ...map, picture: moved(map.picture) })),
      materials: settings.materials.map((material) => ({
        ...material,
        maps: Object.fromEntries(Object.entries(material.maps).map(([kind, picture]) => [kind, moved(picture)])),
      })),
    },
    pictures: [...chosen, id, ...pictures.slice(number)],
  };
}
