/**
 * Colours of corners, 0 or 1, on a torus of four by four tiles whose tiles have every four colours once (a de Bruijn
 * torus): so packed, neighbours in the atlas match, and it can be filtered and repeated as it is (Wei, "Tile-Based Texture
 * Mapping on Graphics Hardware", 2004).
 */
const TORUS = [
  [1, 0, 1, 1],
  [1, 0, 0, 0],
  [0, 0, 0, 1],
  [1, 1, 0, 1],
] as const;

/** Tiles along each side of the atlas. */
export const TILES_ACROSS = 4;

/** Texels of a tile's side at the least: what its rim can be cut in. */
export const LEAST_TILE = 32;

/** Colours of a tile's corners: upper left, upper right, lower left, lower right. */
export type CornerColors = readonly [number, number, number, number];

/** @param column, row of a corner of the atlas; they go on round it */
export const cornerColor = (column: number, row: number): number => TORUS[row & 3]![column & 3]!;

/** The colours at the corners of a tile of the atlas. */
export const cornersOfTile = (column: number, row: number): CornerColors => [
  cornerColor(column, row),
  cornerColor(column + 1, row),
  cornerColor(column, row + 1),
  cornerColor(column + 1, row + 1),
];

const keyOf = ([a, b, c, d]: CornerColors): number => a | (b << 1) | (c << 2) | (d << 3);

/** Where in the atlas the tile with these corners lies. */
const PLACES: readonly (readonly [column: number, row: number])[] = (() => {
  const places: [number, number][] = [];
  for (let row = 0; row < TILES_ACROSS; row++) {
    for (let column = 0; column < TILES_ACROSS; column++) places[keyOf(cornersOfTile(column, row))] = [column, row];
  }
  return places;
})();

/** The place of the tile with given corners. @example placeOfTile([0, 0, 0, 0]) */
export const placeOfTile = (corners: CornerColors): readonly [column: number, row: number] => PLACES[keyOf(corners)]!;

/** What an engine needs to use the atlas: the place of each tile, by the colours of its corners. */
export interface WangTable {
  /** Tiles along each side of the atlas. */
  tilesAcross: number;
  tiles: { column: number; row: number; corners: CornerColors }[];
}

export const WANG_TABLE: WangTable = {
  tilesAcross: TILES_ACROSS,
  tiles: PLACES.map(([column, row]) => ({ column, row, corners: cornersOfTile(column, row) })),
};
