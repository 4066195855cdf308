import { materialsOf, picturesOf, strokesOf, type Stroke } from '@zographos/core/layers';
import type { Image } from '@zographos/core/image';
import type { Size } from '@zographos/core/math';
import { PATHS } from '@zographos/contracts';
import { strokeOfRecord, strokeRecord } from '@zographos/operations';
import { stackInputs, type InputsOfTile } from '@zographos/operations/preview';
import { samplesOf } from '../../../api/samplesOf.ts';
import type { LayersAsk } from './layersMessages.ts';
import { UNDER_PEN } from './underPen.ts';

/** Images by id, content and size, as long as the stack uses them. */
const images = new Map<string, Promise<Image>>();
const inputsKept = new Map<string, { key: string; of: InputsOfTile; tiles: Map<string, ReturnType<InputsOfTile>> }>();
/** Names what the newest inputs hold. */
let key = '';
export const inputsKey = (): string => key;

/** Strokes that were kept, by their hashes. */
export const strokes = new Map<string, Stroke>();

/** Fetches the strokes of a stack that are not here yet. */
export async function strokesOfAsk({ settings, pen }: LayersAsk): Promise<ReadonlyMap<string, Stroke>> {
  await Promise.all(
    strokesOf(settings.layers).map(async (name) => {
      if (name === UNDER_PEN || strokes.has(name)) return;
      const response = await fetch(PATHS.blob(name));
      if (!response.ok) throw new Error('A stroke could not be fetched from the server.');
      strokes.set(name, strokeOfRecord(strokeRecord.parse(await response.json())));
    }),
  );
  if (pen) strokes.set(UNDER_PEN, strokeOfRecord(pen));
  return strokes;
}

/**
 * Everything a stack is made of, at the size of the preview; kept until something of it is another.
 * @param use processes go by less than pictures do, and what is kept for either is not that of the other
 */
export async function inputsOfAsk(
  { settings, pictures, side }: LayersAsk,
  size: Size,
  use: 'picture' | 'processes' = 'picture',
): Promise<InputsOfTile> {
  const { layers, materials, measured, unit } = settings;
  const lies = materialsOf(layers, strokes);
  const used = [...materials.entries()].filter(([i]) => lies.has(i));
  const numbers = new Set(picturesOf(layers, strokes));
  for (const { picture } of measured) numbers.add(picture);
  for (const [, { maps }] of used) for (const picture of Object.values(maps)) numbers.add(picture);
  const named = [...numbers].sort((a, b) => a - b).map((number) => [number, pictures[number]]);
  key = JSON.stringify([used, measured, unit, named, size]);
  const place = `${use} ${side}`;
  let inputs = inputsKept.get(place);
  if (inputs?.key !== key) {
    const wanted = new Map<string, Promise<Image>>();
    const of = await stackInputs(
      settings,
      (number) => {
        const [id, content] = pictures[number] ?? ['', ''];
        if (content === '') throw new Error('An image of the stack is not there. Choose another.');
        const name = `${id} ${content} ${side}`;
        const image = images.get(name) ?? samplesOf(id, content, side);
        wanted.set(name, image);
        images.set(name, image);
        return image;
      },
      strokes,
    );
    inputs = { key, of, tiles: new Map() };
    inputsKept.set(place, inputs);
    for (const name of images.keys()) if (!wanted.has(name) && !name.endsWith(` ${side}`)) images.delete(name);
  }
  const { of, tiles } = inputs;
  return (tile, at) => {
    const name = `${tile} ${at.width} ${at.height}`;
    const made = tiles.get(name) ?? of(tile, at);
    tiles.set(name, made);
    return made;
  };
}
