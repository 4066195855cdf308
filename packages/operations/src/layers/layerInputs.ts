import { ZographosError } from '@zographos/core/errors';
import { sharedImage, type Image, type MapKind } from '@zographos/core/image';
import type { Size } from '@zographos/core/math';
import {
  materialsOf,
  picturesOf,
  preparedMap,
  preparedMaterial,
  preparedPicture,
  type LayerInputs,
  type Stroke,
} from '@zographos/core/layers';
import type { LayersSettings } from './settings.ts';

/** Tells what the layers of a ticket are made of on one tile at a size. */
export type InputsOfTile = (tile: number, size: Size) => Promise<LayerInputs>;

/**
 * Reads what the layers of a ticket are made of.
 * @param load tells the image of a number among the ticket's
 * @param strokes what was painted, by names
 * @throws missing/not-found for an image that is not there; input/other-convention, input/unreadable-file
 */
export async function stackInputs(
  settings: Pick<LayersSettings, 'layers' | 'materials' | 'measured' | 'unit'>,
  load: (picture: number) => Promise<Image>,
  strokes: ReadonlyMap<string, Stroke> = new Map(),
): Promise<InputsOfTile> {
  const everywhere = await tilelessInputs(settings, load, strokes);
  return async (tile, size) => {
    const measured: Partial<Record<MapKind, Image>> = {};
    const onTile = settings.measured.filter((map) => map.tile === tile);
    await Promise.all(
      onTile.map(async ({ kind, picture }) => {
        measured[kind] = preparedMap(kind, await load(picture), size, settings.unit);
      }),
    );
    return { ...everywhere, measured, strokes, planes: new Map(), processes: new Map() };
  };
}

/** What is the same on all tiles: materials and pictures, those alone that visible layers use. */
async function tilelessInputs(
  { layers, materials }: Pick<LayersSettings, 'layers' | 'materials'>,
  load: (picture: number) => Promise<Image>,
  strokes: ReadonlyMap<string, Stroke>,
): Promise<Pick<LayerInputs, 'materials' | 'pictures'>> {
  const used = materialsOf(layers, strokes);
  const ready: LayerInputs['materials'][number][] = [];
  for (const [i, { name, width, maps }] of materials.entries()) {
    const lies = used.has(i);
    const images: Partial<Record<MapKind, Image>> = {};
    if (lies) for (const [kind, picture] of Object.entries(maps)) images[kind as MapKind] = await load(picture);
    if (lies && Object.keys(images).length === 0) {
      throw new ZographosError(
        'missing/not-found',
        `“${name}” has no maps any more, and a layer is made of it. Choose another material, or remove the layer.`,
      );
    }
    ready.push(preparedMaterial(name, width, images));
  }
  const wanted = picturesOf(layers, strokes);
  const pictures: Image[][] = [];
  for (const number of wanted) {
    pictures[number] = preparedPicture(await load(number), `image ${number + 1} of the stack`).map(sharedImage);
  }
  return { materials: ready, pictures };
}
