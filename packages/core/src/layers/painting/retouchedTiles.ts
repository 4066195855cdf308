import type { LayerChannel } from '../channels.ts';
import type { LayerPlanes } from '../compose/layerPlanes.ts';
import type { LayeredSurface, LayeredTile } from '../surface/layeredSurface.ts';
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
export interface Worked {
  channel: LayerChannel;
  width: number;
  planes: Float32Array[];
}

/** Standard deviation of a brush that softens, as a share of its radius. */
const BLUR = 0.25;

/** The same in texels. */
export const blurOf = ({ brush }: Stroke, tiles: readonly RetouchedTile[]): number =>
  (brush.radius * BLUR) / tiles[0]!.tile.texel;

/** Texels are looked for within so many of their own widths. */
const REACH = 1.6;

const NOWHERE = [0, 0, 0] as const;

/** Boxes about the dabs of a stroke that is moved by a step, and of what is looked at around them. */
function boxesAt(stroke: Stroke, step: readonly number[], repeats: LayeredSurface['repeats']): number[][] {
  const points = stroke.points.map((value, i) => value + (step[i % POINT] ?? 0));
  const { boxes } = dabsOf({ ...stroke, points }, repeats);
  const around = stroke.brush.radius * (stroke.brush.tool === 'blur' ? 4 * BLUR : 0.2);
  return Array.from({ length: boxes.length / 6 }, (_, i) =>
    Array.from(boxes.subarray(i * 6, i * 6 + 6), (value, k) => value + (k < 3 ? -around : around)),
  );
}

/** Boxes about all that a stroke works on, and about what it takes from elsewhere. */
export function boxesOfStroke(stroke: Stroke, { repeats }: Pick<LayeredSurface, 'repeats'>): number[][] {
  const own = boxesAt(stroke, NOWHERE, repeats);
  return stroke.brush.tool === 'clone' ? [...own, ...boxesAt(stroke, stroke.brush.from, repeats)] : own;
}

/** The texels that a stroke works on, and those it takes from. */
export function gridOf(stroke: Stroke, tiles: readonly RetouchedTile[]): TexelGrid {
  // What is blurred need not be looked up finer than that.
  const reach = stroke.brush.tool === 'blur' ? Math.max(REACH, Math.min(4, blurOf(stroke, tiles) / 2)) : REACH;
  return new TexelGrid(
    tiles.map(({ tile }) => tile),
    boxesOfStroke(stroke, tiles[0]!.tile.surface),
    reach,
  );
}
