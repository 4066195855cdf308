import type { Size } from '../math/size.ts';
import { ZographosError } from '../errors.ts';

/** Where an image set lies in an atlas, in texels; x and y from the bottom left, as UVs run. */
export interface Placement extends Size {
  x: number;
  y: number;
  /** How often the set repeats across it; once if left out. */
  across?: number | undefined;
}

/**
 * Equal squares in rows from the bottom left, as large as the largest set: four of 2048 fill 4096.
 * @param gutter texels around each set
 * @throws limit/packing when they do not fit, with the size at which they would
 */
export function inRows(sets: readonly Size[], atlas: Size, gutter: number): Placement[] {
  const cell = Math.max(...sets.map(({ width, height }) => Math.max(width, height))) + 2 * gutter;
  const columns = Math.floor(atlas.width / cell);
  if (columns * Math.floor(atlas.height / cell) < sets.length) {
    const side = cell * Math.ceil(Math.sqrt(sets.length));
    throw tooSmall(sets, atlas, gutter, side);
  }
  return sets.map(({ width, height }, i) => ({
    x: (i % columns) * cell + gutter,
    y: Math.floor(i / columns) * cell + gutter,
    width,
    height,
  }));
}

/**
 * Sets of any sizes, the tall ones first, each beside the last on shelves that are as high as their first.
 * @throws limit/packing when they do not fit, with a size at which they would
 */
export function onShelves(sets: readonly Size[], atlas: Size, gutter: number): Placement[] {
  const places = shelved(sets, atlas, gutter);
  if (places) return places;
  let side = Math.max(atlas.width, atlas.height);
  while (!shelved(sets, { width: side, height: side }, gutter)) side *= 2;
  throw tooSmall(sets, atlas, gutter, side);
}

/** Strips are not repeated more often, and so not made finer, than this many times as often as at their own size. */
const FINEST_TRIMS = 32;

/**
 * Strips over the whole width, one above the other from the top in their order: a trim sheet, which repeats across. Each
 * holds its set as often as it goes into the width at its own size, and all more often, finer, until they fit.
 * @param gutter texels above and below each strip
 * @throws limit/packing when they are too high together however fine they are
 */
export function asTrims(sets: readonly Size[], atlas: Size, gutter: number): Placement[] {
  for (let finer = 1; finer <= FINEST_TRIMS; finer *= 1.04) {
    let top = atlas.height;
    const places = sets.map((set): Placement => {
      const across = Math.max(1, Math.round((finer * atlas.width) / set.width));
      const height = Math.max(1, Math.round((set.height * atlas.width) / (set.width * across)));
      top -= height + 2 * gutter;
      return { x: 0, y: top + gutter, width: atlas.width, height, ...(across > 1 ? { across } : {}) };
    });
    if (top >= 0) return places;
  }
  throw new ZographosError(
    'limit/packing',
    `${sets.length} strips with ${gutter} px above and below each do not fit into ${atlas.width} × ${atlas.height} px. Choose a higher atlas, a smaller gutter, or fewer strips.`,
  );
}

/** The places of `onShelves`; null where they do not fit. */
export function shelved(sets: readonly Size[], atlas: Size, gutter: number): Placement[] | null {
  const order = [...sets.keys()].sort((a, b) => sets[b]!.height - sets[a]!.height || sets[b]!.width - sets[a]!.width);
  const places: Placement[] = [];
  let [x, y, shelf] = [0, 0, 0];
  for (const i of order) {
    const { width, height } = sets[i]!;
    const [across, up] = [width + 2 * gutter, height + 2 * gutter];
    if (x + across > atlas.width) [x, y, shelf] = [0, y + shelf, 0];
    if (x + across > atlas.width || y + up > atlas.height) return null;
    shelf = Math.max(shelf, up);
    places[i] = { x: x + gutter, y: y + gutter, width, height };
    x += across;
  }
  return places;
}

function tooSmall(sets: readonly Size[], atlas: Size, gutter: number, side: number): ZographosError {
  const fitting = 2 ** Math.ceil(Math.log2(side));
  const around = gutter > 0 ? ` with ${gutter} px around each` : '';
  return new ZographosError(
    'limit/packing',
    `${sets.length} image sets${around} do not fit into ${atlas.width} × ${atlas.height} px. ${fitting} px would do${gutter > 0 ? ', or a smaller gutter' : ''}; or let them be resampled.`,
  );
}
