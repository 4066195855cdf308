import { isSameSize, type Size } from '../math/size.ts';
import { framedSides } from './framePicture.ts';
import type { Axis } from './ends/overlap.ts';
import { lengthBefore, overlapOf, type Ends } from './seamlessSet.ts';
import type { TileSettings } from './tileMaker.ts';
import { LEAST_TILE, TILES_ACROSS } from './wang/cornerTorus.ts';

/** No side of a tile is longer or shorter than this unless it is asked for. */
const SIDES = { least: 16, most: 8192 } as const;

export type TileShape = Pick<TileSettings, 'corners' | 'way' | 'ends' | 'patches' | 'wang'>;

/** What of a picture is in its tile. */
export interface KeptOfPicture {
  /** How much of the frame's length is left once its ends are joined, along each axis: 0.5 to 1. */
  length: Readonly<Record<Axis, number>>;
  /** Texels of the tile to one of the picture, along each axis: 1 as they are, 0.5 half as fine. */
  scale: Readonly<Record<Axis, number>>;
}

/**
 * The size of a tile that keeps the proportions of its picture and as many texels as its ends leave: nothing is squashed,
 * nothing is made finer or coarser. Where a side would be longer than 8192 texels, all of it is reduced alike.
 * @param picture its width and height in texels
 * @example ownSize({ width: 1500, height: 1000 }, DEFAULT_TILE) // { width: 1312, height: 875 }
 */
export function ownSize(picture: Size, shape: TileShape): Size {
  const [across, up] = framedSides(picture, shape.corners);
  if (shape.way === 'wang') {
    const side = Math.min(SIDES.most / TILES_ACROSS, Math.round(Math.min(across, up) * shape.wang.tile));
    const atlas = Math.max(LEAST_TILE, side) * TILES_ACROSS;
    return { width: atlas, height: atlas };
  }
  const [width, height] =
    shape.way === 'patches'
      ? [across * shape.patches.spread, up * shape.patches.spread]
      : [lengthLeft(shape.ends.across, across), lengthLeft(shape.ends.up, up)];
  const scale = Math.min(1, SIDES.most / Math.max(width, height));
  const texels = (length: number): number => Math.max(SIDES.least, Math.round(length * scale));
  return { width: texels(width), height: texels(height) };
}

/**
 * The size of a tile whose shape was changed: one that was as large as its picture left it stays so, any other keeps its
 * size. A size that was itself changed is left alone.
 */
export function sizeAfterChange(
  picture: Size,
  before: TileShape & { size: Size },
  after: TileShape & { size: Size },
): Size {
  const isOwn = isSameSize(before.size, ownSize(picture, before));
  return isOwn && isSameSize(before.size, after.size) ? ownSize(picture, after) : after.size;
}

/** How long an axis is once its ends are joined. */
function lengthLeft(ends: Ends, length: number): number {
  const along = Math.max(2, Math.round(length));
  return ends.method === 'mirror' ? along * 2 : along - overlapOf(ends, along);
}

/** What of a picture is in a tile of a size. */
export function keptOf(picture: Size, shape: TileShape, size: Size): KeptOfPicture {
  const [across, up] = framedSides(picture, shape.corners);
  if (shape.way === 'wang') {
    const scale = size.width / TILES_ACROSS / shape.wang.tile / Math.min(across, up);
    return { length: { across: 1, up: 1 }, scale: { across: scale, up: scale } };
  }
  if (shape.way === 'patches') {
    const scale = Math.max(size.width, size.height) / shape.patches.spread / Math.max(across, up);
    return { length: { across: 1, up: 1 }, scale: { across: scale, up: scale } };
  }
  const length = ({ method, width }: Ends): number => (method === 'none' || method === 'mirror' ? 1 : 1 - width);
  return {
    length: { across: length(shape.ends.across), up: length(shape.ends.up) },
    scale: {
      across: lengthBefore(shape.ends.across, size.width) / across,
      up: lengthBefore(shape.ends.up, size.height) / up,
    },
  };
}
