import { padIslands } from '../../bake/finish/padding.ts';
import { blur } from '../../image/filter/blur.ts';
import { widthOf, type LayerChannel } from '../channels.ts';
import { wayAlong, type LayeredSurface, type LayeredTile } from '../surface/layeredSurface.ts';
import type { LayerPlanes } from '../compose/layerPlanes.ts';
import { dabsOf } from './dabs.ts';
import { POINT, type Stroke } from './stroke.ts';
import { TexelGrid } from './texelGrid.ts';

/** A plane that a stroke works on, with so many values a texel. */
interface Worked {
  channel: LayerChannel;
  width: number;
  plane: Float32Array;
}

/**
 * Does a stroke to what lies beneath: softens it, draws it along, or lays on what lies elsewhere on the surface. Places are
 * found in space, so that it goes over seams; what lies on another tile is not reached.
 * @param covered how strongly the stroke covers each texel
 * @param before what lay there before the layer, which erasing brings back
 */
export function retouch(
  stroke: Stroke,
  covered: Float32Array,
  planes: LayerPlanes,
  before: LayerPlanes,
  channels: readonly LayerChannel[],
  tile: LayeredTile,
): void {
  const worked = planesOf(planes, channels);
  switch (stroke.brush.tool) {
    case 'blur':
      for (const each of worked) soften(each, covered, planes.states, stroke.brush.radius, tile);
      break;
    case 'clone':
      clone(stroke, covered, worked, tile);
      break;
    case 'smear':
      smear(stroke, covered, worked, tile);
      break;
    case 'erase':
      planesOf(before, channels).forEach(({ plane, width }, i) => mixIn(worked[i]!, plane, covered, width));
      break;
    default:
  }
  for (const { channel, plane, width } of worked) if (channel === 'normal' && width === 3) normalise(plane);
}

function planesOf({ channels, relief }: LayerPlanes, wanted: readonly LayerChannel[]): Worked[] {
  const worked: Worked[] = [];
  for (const channel of wanted) {
    const plane = channels[channel];
    if (plane) worked.push({ channel, width: widthOf(channel), plane });
    if (channel === 'height' && relief) worked.push({ channel, width: 1, plane: relief });
  }
  return worked;
}

function mixIn({ plane }: Worked, other: Float32Array, covered: Float32Array, width: number): void {
  for (let at = 0; at < covered.length; at++) {
    const share = covered[at]!;
    if (share === 0) continue;
    for (let k = at * width; k < (at + 1) * width; k++) plane[k]! += (other[k]! - plane[k]!) * share;
  }
}

/** Blurred by a quarter of the brush. */
function soften(worked: Worked, covered: Float32Array, states: Uint8Array, radius: number, tile: LayeredTile): void {
  const { plane, width } = worked;
  const sigma = radius / 4 / tile.texel;
  const image = { ...tile.size, channels: width, data: plane.slice() };
  padIslands([image], states.slice(), Math.ceil(3 * sigma + 2));
  mixIn(worked, blur(image, sigma, tile.surface.repeats ? 'repeat' : 'clamp').data, covered, width);
}

const NOWHERE = [0, 0, 0] as const;

/** Boxes about the dabs of a stroke that is moved by a step, and of what is looked at around them. */
function boxesOf(stroke: Stroke, step: readonly number[], { repeats }: LayeredSurface): number[][] {
  const points = stroke.points.map((value, i) => value + (step[i % POINT] ?? 0));
  const { boxes } = dabsOf({ ...stroke, points }, repeats);
  const around = stroke.brush.radius * 0.2;
  return Array.from({ length: boxes.length / 6 }, (_, i) =>
    Array.from(boxes.subarray(i * 6, i * 6 + 6), (value, k) => value + (k < 3 ? -around : around)),
  );
}

/** What lies a step away, as it was before the stroke. */
function clone(stroke: Stroke, covered: Float32Array, worked: readonly Worked[], tile: LayeredTile): void {
  const { from } = stroke.brush;
  const grid = new TexelGrid(tile, [...boxesOf(stroke, NOWHERE, tile.surface), ...boxesOf(stroke, from, tile.surface)]);
  const out = new Float64Array(3);
  for (const { plane, width } of worked) {
    const before = plane.slice();
    for (let i = 0; i < grid.own; i++) {
      const share = covered[grid.at[i]!]!;
      if (share === 0) continue;
      if (!grid.sample(grid.x[i]! + from[0], grid.y[i]! + from[1], grid.z[i]! + from[2], before, width, out)) continue;
      const at = grid.at[i]! * width;
      for (let k = 0; k < width; k++) plane[at + k]! += (out[k]! - plane[at + k]!) * share;
    }
  }
}

/** Each dab takes along what lay under the one before. */
function smear(stroke: Stroke, covered: Float32Array, worked: readonly Worked[], tile: LayeredTile): void {
  const { centers, radii, count } = dabsOf(stroke);
  const { repeats } = tile.surface;
  const grid = new TexelGrid(tile, boxesOf(stroke, NOWHERE, tile.surface));
  const touched: number[] = [];
  for (let i = 0; i < grid.own; i++) if (covered[grid.at[i]!]! > 0) touched.push(i);
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
    for (const { plane, width } of worked) {
      const taken = new Float64Array(under.length * width);
      under.forEach((i, n) => {
        const at = grid.at[i]! * width;
        const has = grid.sample(grid.x[i]! - dx, grid.y[i]! - dy, grid.z[i]! - dz, plane, width, out);
        for (let k = 0; k < width; k++) taken[n * width + k] = has ? out[k]! : plane[at + k]!;
      });
      under.forEach((i, n) => {
        const texel = grid.at[i]!;
        const distance = away(i) / r;
        const share = covered[texel]! * Math.max(0, 1 - distance * distance);
        for (let k = 0; k < width; k++) {
          plane[texel * width + k]! += (taken[n * width + k]! - plane[texel * width + k]!) * share;
        }
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
