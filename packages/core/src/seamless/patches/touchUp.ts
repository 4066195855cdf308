import type { Image } from '../../image/image.ts';
import { toUnit } from '../../image/kindMeaning.ts';
import { ALL, bandedCut, softenedCut } from '../ends/bandedCut.ts';
import { CutSide } from './minCut.ts';
import { seamCost, type Window } from '../ends/seamCost.ts';

/** A spot that is painted out with texture from elsewhere. Places and radius are shares of the tile, y downwards. */
export interface Spot {
  to: readonly [x: number, y: number];
  from: readonly [x: number, y: number];
  /** Of the tile's shorter side. */
  radius: number;
  /** How much of the radius is left for the edge, which runs there where it shows least: 0 for a hard circle. */
  softness: number;
}

/** A spot in texels: what shows of the texture about its middle, row by row of a window, in eighths. */
export interface PaintedSpot {
  middle: readonly [x: number, y: number];
  /** From the middle to where the texture is taken. */
  way: readonly [x: number, y: number];
  /** Half the window without its middle. */
  across: number;
  up: number;
  shows: Uint8Array;
}

export interface TouchUpOptions {
  /** Texels are directions, and made of unit length again. */
  unit?: boolean;
  /** Colours stand for things and are never mixed. */
  whole?: boolean;
}

/**
 * Finds the edges of spots, each as the least visible boundary between the texture that comes and what it comes into, one
 * after the other. One plan serves all maps of a set.
 * @param guide the map by which they are found
 */
export function planTouchUp(guide: Image, spots: readonly Spot[]): PaintedSpot[] {
  if (spots.length === 0) return [];
  const tile = { ...guide, data: guide.data.slice() };
  return spots.map((spot) => {
    const painted = paintedSpot(tile, spot);
    paint(tile, painted, {});
    return painted;
  });
}

/**
 * Paints spots out, one after the other, over the borders of the tile as if it were endless. Each takes its texture from
 * the tile as it was before that spot.
 */
export function touchUp(image: Image, painted: readonly PaintedSpot[], options: TouchUpOptions = {}): Image {
  if (painted.length === 0) return image;
  const tile = { ...image, data: image.data.slice() };
  for (const spot of painted) paint(tile, spot, options);
  return tile;
}

function paint(tile: Image, spot: PaintedSpot, { unit = false, whole = false }: TouchUpOptions): void {
  const { channels, data } = tile;
  const { way, shows } = spot;
  // Taken before anything is painted: a spot may lie on where its texture comes from.
  const texture = new Float32Array(shows.length * channels);
  eachTexel(tile, spot, way, (at, i) => {
    for (let c = 0; c < channels; c++) texture[i * channels + c] = data[at + c]!;
  });
  eachTexel(tile, spot, [0, 0], (at, i) => {
    const share = whole ? Math.round(shows[i]! / ALL) : shows[i]! / ALL;
    if (share === 0) return;
    for (let c = 0; c < channels; c++) data[at + c] = data[at + c]! * (1 - share) + texture[i * channels + c]! * share;
    if (unit) toUnit(data, at);
  });
}

/** Goes through the window of a spot. @param visit told where a texel lies in the tile's data, and its number */
function eachTexel(
  { width, height, channels }: Image,
  { middle, across, up }: Omit<PaintedSpot, 'shows' | 'way'>,
  [dx, dy]: readonly [number, number],
  visit: (at: number, i: number) => void,
): void {
  const within = (value: number, size: number): number => ((value % size) + size) % size;
  let i = 0;
  for (let y = -up; y <= up; y++) {
    const row = within(middle[1] + dy + y, height) * width;
    for (let x = -across; x <= across; x++) visit((row + within(middle[0] + dx + x, width)) * channels, i++);
  }
}

function paintedSpot(tile: Image, { to, from, radius, softness }: Spot): PaintedSpot {
  const { width, height, channels, data } = tile;
  const reach = radius * Math.min(width, height);
  // One texel more than the circle, which stays as it is.
  const [across, up] = [width, height].map((side) => Math.min(Math.ceil(reach) + 1, (side - 1) >> 1)) as [
    number,
    number,
  ];
  const place = {
    middle: [Math.floor(to[0] * width), Math.floor(to[1] * height)] as const,
    way: [Math.round((from[0] - to[0]) * width), Math.round((from[1] - to[1]) * height)] as const,
    ...{ across, up },
  };
  const wide = 2 * across + 1;
  const count = wide * (2 * up + 1);
  const side = new Uint8Array(count);
  for (let i = 0; i < count; i++) {
    const far = Math.hypot((i % wide) - across, Math.floor(i / wide) - up);
    side[i] = far >= reach ? CutSide.old : far <= reach * (1 - softness) ? CutSide.fresh : CutSide.either;
  }
  const taken = (way: readonly [number, number]): Window => {
    const values = new Float32Array(count * channels);
    eachTexel(tile, place, way, (at, i) => values.set(data.subarray(at, at + channels), i * channels));
    return { width: wide, channels, values, known: new Uint8Array(count).fill(1) };
  };
  const difference = seamCost(taken([0, 0]), taken(place.way));
  const cut = bandedCut(difference, side, wide, 2 * up + 1);
  const shows = softness > 0 ? softenedCut(cut, side, wide) : cut.map((isFresh) => isFresh * ALL);
  return { ...place, shows };
}
