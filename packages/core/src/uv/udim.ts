import { uvMiddle, type Layout } from './layout.ts';

/** UDIM numbers: 1001 + u + 10 v, with u from 0 to 9 (common practice, no source). */
export const FIRST_TILE = 1001;
export const LAST_TILE = 2000;

/** Where a tile begins. */
export const tileOrigin = (tile: number): readonly [u: number, v: number] => [
  (tile - FIRST_TILE) % 10,
  Math.floor((tile - FIRST_TILE) / 10),
];

/** The tile of a place in the layout; null where there is no number for it. */
export function tileAt(u: number, v: number): number | null {
  const column = Math.floor(u);
  const row = Math.floor(v);
  return column >= 0 && column < 10 && row >= 0 && row < 100 ? FIRST_TILE + column + 10 * row : null;
}

/** The tile of a triangle, by its middle; null where there is no number for it. */
export const tileOfTriangle = (layout: Pick<Layout, 'uvs' | 'indices'>, triangle: number): number | null =>
  tileAt(...uvMiddle(layout, triangle));

/**
 * The tiles in which triangles lie, by their centres, each with how many; in order of their numbers.
 * @returns `outside`: triangles where no tile has a number
 */
export function tilesOf(uvs: Float32Array, indices: Uint32Array): { tiles: Map<number, number>; outside: number } {
  const counts = new Map<number, number>();
  let outside = 0;
  for (let t = 0; t < indices.length / 3; t++) {
    const tile = tileOfTriangle({ uvs, indices }, t);
    if (tile === null) outside++;
    else counts.set(tile, (counts.get(tile) ?? 0) + 1);
  }
  return { tiles: new Map([...counts].sort(([a], [b]) => a - b)), outside };
}
