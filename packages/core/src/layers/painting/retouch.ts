import { widthOf, type LayerChannel } from '../channels.ts';
import { wayAlong } from '../surface/layeredSurface.ts';
import type { LayerPlanes } from '../compose/layerPlanes.ts';
import { dabsOf } from './dabs.ts';
import type { Stroke } from './stroke.ts';
import { normalsInSpace, intoTangentSpace } from './normalsInSpace.ts';
import { gridOf, type RetouchedTile, type Worked } from './retouchedTiles.ts';
import { soften } from './soften.ts';
import type { TexelGrid } from './texelGrid.ts';

/**
 * Does a stroke to what lies beneath: softens it, draws it along, or lays on what lies elsewhere on the surface. Places are
 * found in space, so that all of it goes over seams, and from one of the tiles to another.
 */
export function retouch(stroke: Stroke, tiles: readonly RetouchedTile[], channels: readonly LayerChannel[]): void {
  const worked = planesOf(
    tiles.map(({ planes }) => planes),
    channels,
  );
  if (stroke.brush.tool === 'erase') {
    erase(tiles, worked, channels);
    return;
  }
  const grid = gridOf(stroke, tiles);
  const normals = worked.find(({ channel }) => channel === 'normal');
  const inSpace = normals && normalsInSpace(grid, tiles, normals.planes);
  const all = worked.map((own) => (own === normals ? { ...own, planes: inSpace! } : own));
  switch (stroke.brush.tool) {
    case 'blur':
      soften(stroke, tiles, all, grid);
      break;
    case 'clone':
      clone(stroke, tiles, all, grid);
      break;
    case 'smear':
      smear(stroke, tiles, all, grid);
      break;
    default:
  }
  if (normals) intoTangentSpace(grid, tiles, inSpace!, normals.planes);
}

/** Goes back to what lay beneath the layer. */
function erase(tiles: readonly RetouchedTile[], worked: readonly Worked[], channels: readonly LayerChannel[]): void {
  const before = planesOf(
    tiles.map((tile) => tile.before),
    channels,
  );
  worked.forEach(({ channel, planes, width }, i) =>
    tiles.forEach(({ covered }, t) => {
      mixIn(planes[t]!, before[i]!.planes[t]!, covered, width);
      if (channel === 'normal') normalise(planes[t]!);
    }),
  );
}

function planesOf(tiles: readonly LayerPlanes[], wanted: readonly LayerChannel[]): Worked[] {
  const worked: Worked[] = [];
  for (const channel of wanted) {
    const planes = tiles.flatMap(({ channels }) => channels[channel] ?? []);
    if (planes.length > 0) worked.push({ channel, width: widthOf(channel), planes });
    const reliefs = tiles.flatMap(({ relief }) => relief ?? []);
    if (channel === 'height' && reliefs.length > 0) worked.push({ channel, width: 1, planes: reliefs });
  }
  return worked;
}

function mixIn(plane: Float32Array, other: Float32Array, covered: Float32Array, width: number): void {
  for (let at = 0; at < covered.length; at++) {
    const share = covered[at]!;
    if (share === 0) continue;
    for (let k = at * width; k < (at + 1) * width; k++) plane[k]! += (other[k]! - plane[k]!) * share;
  }
}

/** What lies a step away, as it was before the stroke. */
function clone(stroke: Stroke, tiles: readonly RetouchedTile[], worked: readonly Worked[], grid: TexelGrid): void {
  const { from } = stroke.brush;
  const out = new Float64Array(3);
  for (const { planes, width } of worked) {
    const before = planes.map((plane) => plane.slice());
    for (let i = 0; i < grid.own; i++) {
      const share = tiles[grid.of[i]!]!.covered[grid.at[i]!]!;
      if (share === 0) continue;
      if (!grid.sample(grid.x[i]! + from[0], grid.y[i]! + from[1], grid.z[i]! + from[2], before, width, out)) continue;
      const plane = planes[grid.of[i]!]!;
      const at = grid.at[i]! * width;
      for (let k = 0; k < width; k++) plane[at + k]! += (out[k]! - plane[at + k]!) * share;
    }
  }
}

/** Each dab takes along what lay under the one before. */
function smear(stroke: Stroke, tiles: readonly RetouchedTile[], worked: readonly Worked[], grid: TexelGrid): void {
  const { centers, radii, count } = dabsOf(stroke);
  const { repeats } = tiles[0]!.tile.surface;
  const touched: number[] = [];
  for (let i = 0; i < grid.own; i++) if (tiles[grid.of[i]!]!.covered[grid.at[i]!]! > 0) touched.push(i);
  const out = new Float64Array(3);
  for (let dab = 1; dab < count; dab++) {
    const [cx, cy, cz] = [centers[dab * 3]!, centers[dab * 3 + 1]!, centers[dab * 3 + 2]!];
    const [dx, dy, dz] = [cx - centers[dab * 3 - 3]!, cy - centers[dab * 3 - 2]!, cz - centers[dab * 3 - 1]!];
    const r = radii[dab]!;
    // The copies of a symmetric stroke follow each other: from one to the next nothing is taken along.
    if (Math.hypot(dx, dy, dz) > 2 * r) continue;
    const away = (i: number): number =>
      Math.hypot(
        wayAlong(0, cx, grid.x[i]!, repeats),
        wayAlong(1, cy, grid.y[i]!, repeats),
        wayAlong(2, cz, grid.z[i]!, repeats),
      );
    const under = touched.filter((i) => away(i) < r);
    for (const { planes, width } of worked) {
      const taken = new Float64Array(under.length * width);
      under.forEach((i, n) => {
        const plane = planes[grid.of[i]!]!;
        const at = grid.at[i]! * width;
        const has = grid.sample(grid.x[i]! - dx, grid.y[i]! - dy, grid.z[i]! - dz, planes, width, out);
        for (let k = 0; k < width; k++) taken[n * width + k] = has ? out[k]! : plane[at + k]!;
      });
      under.forEach((i, n) => {
        const plane = planes[grid.of[i]!]!;
        const at = grid.at[i]! * width;
        const distance = away(i) / r;
        const share = tiles[grid.of[i]!]!.covered[grid.at[i]!]! * Math.max(0, 1 - distance * distance);
        for (let k = 0; k < width; k++) plane[at + k]! += (taken[n * width + k]! - plane[at + k]!) * share;
      });
    }
  }
}

function normalise(plane: Float32Array): void {
  for (let i = 0; i < plane.length; i += 3) {
    const length = Math.hypot(plane[i]!, plane[i + 1]!, plane[i + 2]!);
    if (length === 0) continue;
    plane[i]! /= length;
    plane[i + 1]! /= length;
    plane[i + 2]! /= length;
  }
}
