import type { Size } from '../../math/size.ts';
import { edgeLength } from '../../mesh/edges.ts';
import { triangleArea } from '../../mesh/triangleArea.ts';
import { findNarrowGaps, type NarrowGap } from './islandGaps.ts';
import { islandCount, islandNumbers } from '../islands/islands.ts';
import { coveringLayout, doubleUvArea, isWithinTile, mirroredTriangles, uvMiddle, type Layout } from '../layout.ts';
import { layoutCoverage } from './layoutCoverage.ts';
import { findOverlaps, type Overlaps } from './overlaps.ts';
import { seamsOf } from '../seams.ts';
import { isSharedStack } from '../islands/stackedIslands.ts';
import { measureStretch } from './stretch.ts';
import { measureTexelDensity, type TexelDensity } from './texelDensity.ts';
import { FIRST_TILE, tileAt, tilesOf } from '../udim.ts';

export interface LayoutCheckOptions {
  /** Of the map that will lie on each tile. */
  size: Size;
  /** Texels that should lie between islands, and to the edge of the tile. */
  padding: number;
  /** The tiles in use; or all in which there are islands. */
  tiles: readonly number[] | 'all';
  /** Islands that lie on each other on purpose, as a UV set has them. */
  shared?: readonly (readonly number[])[] | undefined;
  /** The island of each triangle, where that is known already. */
  islandOf?: Uint32Array;
}

/** What is good and bad about a layout, in figures and in places. */
export interface LayoutCheck {
  triangles: number;
  islands: number;
  /** The island of each triangle. */
  islandOf: Uint32Array;
  overlaps: Overlaps;
  /** Triangles that lie mirrored in the layout, against most of it. */
  flipped: number[];
  /** Triangles that lie outside the tiles in use, or over the edge of one. */
  outside: number[];
  tooClose: NarrowGap[];
  /** Triangles with an area on the surface and none in the layout. */
  zeroArea: number[];
  /** Share of each tile that is covered, by number. */
  coverage: Map<number, number>;
  density: TexelDensity;
  stretch: { l2: number; linf: number; ofTriangle: Float32Array };
  /** Seams: how many edges, and their length on the surface. */
  seams: { edges: number; length: number };
}

/** Coverage is counted on no more texels than this along a side. */
const COVERAGE_SIDE = 2048;

/** Measures all of a layout. */
export function checkLayout(
  whole: Layout,
  { size, padding, tiles, shared, ...options }: LayoutCheckOptions,
): LayoutCheck {
  const layout = coveringLayout(whole);
  const { positions, uvs, indices } = layout;
  const triangles = indices.length / 3;
  const islandOf = options.islandOf ?? islandNumbers(layout);
  const inUse = tiles === 'all' ? [...tilesOf(uvs, indices).tiles.keys()] : tiles;
  const within = new Set(inUse);
  const zeroArea: number[] = [];
  const outside: number[] = [];
  for (let t = 0; t < triangles; t++) {
    if (doubleUvArea(layout, t) === 0 && triangleArea(positions, 3, indices, t) > 0) zeroArea.push(t);
    if (isOutside(layout, t, within)) outside.push(t);
  }
  const isShared = isSharedStack(shared, islandOf);
  const seams = seamsOf(whole);
  const side = Math.min(1, COVERAGE_SIDE / Math.max(size.width, size.height));
  const counted = { width: Math.ceil(size.width * side), height: Math.ceil(size.height * side) };
  return {
    triangles,
    islands: islandCount(islandOf),
    islandOf,
    overlaps: findOverlaps(layout, islandOf, isShared),
    flipped: mirroredTriangles(layout),
    outside,
    tooClose:
      padding > 0
        ? findNarrowGaps(layout, islandOf, size, padding).filter(({ a, b }) => b === null || !isShared(a, b))
        : [],
    zeroArea,
    coverage: new Map(
      (inUse.length > 0 ? inUse : [FIRST_TILE]).map((tile) => [tile, layoutCoverage(layout, tile, counted)]),
    ),
    density: measureTexelDensity(layout, size),
    stretch: measureStretch(layout),
    seams: {
      edges: seams.length,
      length: seams.reduce((sum, { here }) => sum + edgeLength(positions, indices[here[0]]!, indices[here[1]]!), 0),
    },
  };
}

/** Whether a triangle reaches out of the tile in which its middle lies, or that tile is not in use. */
function isOutside(layout: Layout, t: number, tiles: ReadonlySet<number>): boolean {
  const [u, v] = uvMiddle(layout, t);
  const tile = tileAt(u, v);
  if (tile === null || !tiles.has(tile)) return true;
  return !isWithinTile(layout, t, Math.floor(u), Math.floor(v));
}
