import { padIslands } from '../../bake/finish/padding.ts';
import { blur } from '../../image/filter/blur.ts';
import { widthOf, type LayerChannel } from '../channels.ts';
import { wayAlong, type LayeredSurface, type LayeredTile } from '../surface/layeredSurface.ts';
import type { LayerPlanes } from '../compose/layerPlanes.ts';
import { dabsOf } from './dabs.ts';
import { POINT, type Stroke } from './stroke.ts';
import { TexelGrid } from './texelGrid.ts';

/** One tile of those that a stroke works on together. */
export interface RetouchedTile {
  tile: LayeredTile;
  /** How strongly the stroke covers each texel. */
  covered: Float32Array;
  planes: LayerPlanes;
  /** What lay there before the layer, which erasing brings back. */
  before: LayerPlanes;
}

/** A plane of each tile that a stroke works on, with so many values a texel. */
interface Worked {
  channel: LayerChannel;
  width: number;
  planes: Float32Array[];
}

/**
 * Does a stroke to what lies beneath: softens it, draws it along, or lays on what lies elsewhere on the surface. Places are
 * found in space, so that drawing along and cloning go over seams, and from one of the tiles to another.
 */
export function retouch(stroke: Stroke, tiles: readonly RetouchedTile[], channels: readonly LayerChannel[]): void {
  const worked = planesOf(
    tiles.map(({ planes }) => planes),
    channels,
  );
  switch (stroke.brush.tool) {
    case 'blur':
      for (const each of worked) soften(each, tiles, stroke.brush.radius);
      break;
    case 'clone':
      clone(stroke, tiles, worked);
      break;
    case 'smear':
      smear(stroke, tiles, worked);
      break;
    case 'erase':
      planesOf(
        tiles.map(({ before }) => before),
        channels,
      ).forEach(({ planes, width }, i) =>
        tiles.forEach(({ covered }, t) => mixIn(worked[i]!.planes[t]!, planes[t]!, covered, width)),
      );
      break;
    default:
  }
  for (const { channel, planes, width } of worked) if (channel === 'normal' && width === 3) planes.forEach(normalise);
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

/** Blurred by a quarter of the brush; at the borders of islands by what lies on them. */
function soften({ planes, width }: Worked, tiles: readonly RetouchedTile[], radius: number): void {
  for (const [t, { tile, covered, planes: own }] of tiles.entries()) {
    if (!covered.some((share) => share > 0)) continue;
    const sigma = radius / 4 / tile.texel;
    const image = { ...tile.size, channels: width, data: planes[t]!.slice() };
    padIslands([image], own.states.slice(), Math.ceil(3 * sigma + 2));
    mixIn(planes[t]!, blur(image, sigma, tile.surface.repeats ? 'repeat' : 'clamp').data, covered, width);
  }
}

const NOWHERE = [0, 0, 0] as const;

/** Boxes about the dabs of a stroke that is moved by a step, and of what is looked at around them. */
function boxesAt(stroke: Stroke, step: readonly number[], repeats: LayeredSurface['repeats']): number[][] {
  const points = stroke.points.map((value, i) => value + (step[i % POINT] ?? 0));
  const { boxes } = dabsOf({ ...stroke, points }, repeats);
  const around = stroke.brush.radius * 0.2;
  return Array.from({ length: boxes.length / 6 }, (_, i) =>
    Array.from(boxes.subarray(i * 6, i * 6 + 6), (value, k) => value + (k < 3 ? -around : around)),
  );
}

/** Boxes about all that a stroke works on, and about what it takes from elsewhere. */
export function boxesOfStroke(stroke: Stroke, { repeats }: Pick<LayeredSurface, 'repeats'>): number[][] {
  const own = boxesAt(stroke, NOWHERE, repeats);
  return stroke.brush.tool === 'clone' ? [...own, ...boxesAt(stroke, stroke.brush.from, repeats)] : own;
}

const gridOf = (stroke: Stroke, tiles: readonly RetouchedTile[]): TexelGrid =>
  new TexelGrid(
    tiles.map(({ tile }) => tile),
    boxesOfStroke(stroke, tiles[0]!.tile.surface),
  );

/** What lies a step away, as it was before the stroke. */
function clone(stroke: Stroke, tiles: readonly RetouchedTile[], worked: readonly Worked[]): void {
  const { from } = stroke.brush;
  const grid = gridOf(stroke, tiles);
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
function smear(stroke: Stroke, tiles: readonly RetouchedTile[], worked: readonly Worked[]): void {
  const { centers, radii, count } = dabsOf(stroke);
  const { repeats } = tiles[0]!.tile.surface;
  const grid = gridOf(stroke, tiles);
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
