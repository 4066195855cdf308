import type { Image } from '../../image/image.ts';
import { toUnit } from '../../image/kindMeaning.ts';
import { ALL, softenedCut } from '../cut/bandedCut.ts';
import { leastVisibleCut } from '../cut/leastVisibleCut.ts';
import { membrane } from './membrane.ts';
import { eachTexel, windowOf, type Point, type Spot, type SpotWindow } from './spot.ts';
import { SpotMeeting } from './spotMeeting.ts';
import { sourceOf } from './spotSource.ts';

/** A spot of a tile in texels: what shows of the texture that takes its place, in eighths. */
export interface PaintedSpot {
  window: SpotWindow;
  /** From a texel to that which takes its place. */
  way: Point;
  shows: Uint8Array;
}

export interface TouchUpOptions {
  /** Texels are directions, and made of unit length again. */
  unit?: boolean;
  /** Colours stand for things and are never mixed. */
  whole?: boolean;
}

/**
 * Finds for each spot, one after the other, where its texture comes from, and its edge: the least visible boundary within
 * reach. One plan serves all maps of a set.
 * @param guide the map by which they are found
 */
export function planTouchUp(guide: Image, spots: readonly Spot[], check?: () => void): PaintedSpot[] {
  if (spots.length === 0) return [];
  const tile = { ...guide, data: guide.data.slice() };
  return spots.flatMap((spot) => {
    check?.();
    const way = sourceOf(tile, spot, spots);
    if (!way) return [];
    const window = windowOf(spot, tile);
    const { cut, kind } = leastVisibleCut(new SpotMeeting(tile, window, way));
    const shows = spot.reach > 0 ? softenedCut(cut, kind, window.width) : cut.map((isFresh) => isFresh * ALL);
    const painted = { window, way, shows };
    paint(tile, painted, {});
    return painted;
  });
}

/**
 * Paints spots out, one after the other, over the borders of the tile as if it were endless. Each takes its texture from
 * the tile as it was before that spot, fitted into its surroundings by a membrane over what differs along the edge.
 */
export function touchUp(image: Image, painted: readonly PaintedSpot[], options: TouchUpOptions = {}): Image {
  if (painted.length === 0) return image;
  const tile = { ...image, data: image.data.slice() };
  for (const spot of painted) paint(tile, spot, options);
  return tile;
}

function paint(
  tile: Image,
  { window, way, shows }: PaintedSpot,
  { unit = false, whole = false }: TouchUpOptions,
): void {
  const { channels, data } = tile;
  // Taken before anything is painted: a spot may lie on where its texture comes from.
  const taken = (from: Point): Float32Array => {
    const values = new Float32Array(shows.length * channels);
    eachTexel(window, tile, from, (texel, at) => {
      for (let c = 0; c < channels; c++) values[at * channels + c] = data[texel * channels + c]!;
    });
    return values;
  };
  const texture = taken(way);
  if (!unit && !whole) fitIn(texture, taken([0, 0]), window, shows, channels);
  eachTexel(window, tile, [0, 0], (texel, at) => {
    const share = whole ? Math.round(shows[at]! / ALL) : shows[at]! / ALL;
    if (share === 0) return;
    const to = texel * channels;
    for (let c = 0; c < channels; c++) data[to + c] = data[to + c]! * (1 - share) + texture[at * channels + c]! * share;
    if (unit) toUnit(data, to);
  });
}

/** What differs by more than so many standard deviations of the surroundings is another thing, not another light. */
const MOST_DEVIATIONS = 2.5;

/** Adds to a texture, channel by channel, the membrane that hangs between what differs along the edge of a spot. */
function fitIn(
  texture: Float32Array,
  old: Float32Array,
  { width, height }: SpotWindow,
  shows: Uint8Array,
  channels: number,
): void {
  const isFixed = shows.map((share) => (share === 0 ? 1 : 0));
  const difference = new Float32Array(shows.length);
  for (let c = 0; c < channels; c++) {
    const most = MOST_DEVIATIONS * deviationOf(old, isFixed, channels, c);
    for (let at = 0; at < shows.length; at++) {
      const k = at * channels + c;
      difference[at] = isFixed[at] === 1 ? Math.max(-most, Math.min(most, old[k]! - texture[k]!)) : 0;
    }
    // Of single texels none is to be seen within.
    const around = meanAbout(difference, isFixed, width, height);
    membrane(around, isFixed, width, height);
    for (let at = 0; at < shows.length; at++) if (isFixed[at] === 0) texture[at * channels + c]! += around[at]!;
  }
}

function deviationOf(values: Float32Array, isTold: Uint8Array, channels: number, c: number): number {
  let [sum, squares, count] = [0, 0, 0];
  for (let at = 0; at < isTold.length; at++) {
    if (isTold[at] === 0) continue;
    const value = values[at * channels + c]!;
    sum += value;
    squares += value * value;
    count++;
  }
  return count > 0 ? Math.sqrt(Math.max(0, squares / count - (sum / count) ** 2)) : 0;
}

/** Means of fixed values over fixed places within two texels. */
function meanAbout(values: Float32Array, isFixed: Uint8Array, width: number, height: number): Float32Array {
  const means = new Float32Array(values.length);
  for (let y = 0, at = 0; y < height; y++) {
    for (let x = 0; x < width; x++, at++) {
      if (isFixed[at] === 0) continue;
      let [sum, count] = [0, 0];
      for (let j = Math.max(0, y - 2); j <= Math.min(height - 1, y + 2); j++) {
        for (let i = Math.max(0, x - 2); i <= Math.min(width - 1, x + 2); i++) {
          if (isFixed[j * width + i] === 0) continue;
          sum += values[j * width + i]!;
          count++;
        }
      }
      means[at] = sum / count;
    }
  }
  return means;
}
