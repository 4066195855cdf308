import type { Image } from '../../image/image.ts';
import { wrapped } from '../../image/sample.ts';
import { halve } from '../../image/filter/halve.ts';
import { asSeen } from '../cut/cutCost.ts';
import { leastVisibleCut } from '../cut/leastVisibleCut.ts';
import { CutSide } from '../cut/minCut.ts';
import { SpotMeeting } from './spotMeeting.ts';
import { eachTexel, texelOf, windowOf, type Point, type Spot, type SpotWindow } from './spot.ts';

/** Texels of the longer side of the copy in which every place is tried. */
const SMALL = 160;
/** So many places that match best are compared by the cost of their cut. */
const CANDIDATES = 20;
/** Texels around a spot by which places are compared. */
const TELLING = 240;
/** Texels of the longer side of a window in which cuts are compared. */
const CUT_SIDE = 128;

/**
 * Finds where in a tile the texture is that takes the place of a spot with the least visible edge: all places are
 * compared by what lies around the spot, and the best of them by the cost of their minimum cut.
 * @param covered all spots, none of which may come back
 * @returns the way from a texel to that which takes its place, in texels; null where everything is covered
 */
export function sourceOf(tile: Image, spot: Spot, covered: readonly Spot[]): [dx: number, dy: number] | null {
  const levels = [asSeen(tile)];
  while (Math.max(levels[0]!.width, levels[0]!.height) > SMALL) levels.unshift(halve(levels[0]!));
  let ways = placesOf(levels[0]!, spot, covered);
  if (ways.length === 0) return null;
  for (let k = 1; k < levels.length; k++) {
    const [level, coarse] = [levels[k]!, levels[k - 1]!];
    const window = windowOf(spot, level);
    const ring = ringOf(level, window);
    ways = ways.map(([dx, dy]) =>
      bestAbout(level, ring, [
        Math.round((dx * level.width) / coarse.width),
        Math.round((dy * level.height) / coarse.height),
      ]),
    );
    const { width, height } = window;
    const isLast = k + 1 === levels.length;
    if (ways.length > 1 && (isLast || 2 * Math.max(width, height) > CUT_SIDE)) ways = [cheapest(level, spot, ways)];
  }
  return ways.length > 1 ? cheapest(levels.at(-1)!, spot, ways) : ways[0]!;
}

/** What is compared of a spot's surroundings. */
interface Ring {
  /** Texels of the window beyond the brush: columns, rows, and their values. */
  x: Int32Array;
  y: Int32Array;
  values: Float32Array;
}

function ringOf(tile: Image, window: SpotWindow): Ring {
  const open: number[] = [];
  window.side.forEach((side, at) => {
    if (side === CutSide.either) open.push(at);
  });
  // Without any reach, what lies beside the brush.
  if (open.length === 0) {
    window.side.forEach((side, at) => {
      if (side === CutSide.old) open.push(at);
    });
  }
  const step = Math.max(1, open.length / TELLING);
  const chosen = Array.from({ length: Math.min(open.length, TELLING) }, (_, i) => open[Math.floor(i * step)]!);
  const { channels } = tile;
  const x = Int32Array.from(chosen, (at) => window.left + (at % window.width));
  const y = Int32Array.from(chosen, (at) => window.top + Math.floor(at / window.width));
  const values = new Float32Array(chosen.length * channels);
  for (let i = 0; i < chosen.length; i++) {
    const at = texelAt(tile, x[i]!, y[i]!) * channels;
    values.set(tile.data.subarray(at, at + channels), i * channels);
  }
  return { x, y, values };
}

const texelAt = ({ width, height }: Image, x: number, y: number): number =>
  wrapped(y, height, 'repeat') * width + wrapped(x, width, 'repeat');

/** Sum of squares by which the surroundings elsewhere differ; what is above `limit` as soon as that is certain. */
function unlikeness(tile: Image, { x, y, values }: Ring, [dx, dy]: Point, limit: number): number {
  const { channels, data } = tile;
  let sum = 0;
  for (let i = 0, k = 0; i < x.length && sum < limit; i++) {
    const at = texelAt(tile, x[i]! + dx, y[i]! + dy) * channels;
    for (let c = 0; c < channels; c++, k++) sum += (data[at + c]! - values[k]!) ** 2;
  }
  return sum;
}

/** The places of a small tile whose surroundings are most like those of the spot, apart from each other. */
function placesOf(tile: Image, spot: Spot, covered: readonly Spot[]): [number, number][] {
  const { width, height } = tile;
  const window = windowOf(spot, tile);
  const ring = ringOf(tile, window);
  const isCovered = coverOf(tile, covered);
  const radius = spot.radius * Math.min(width, height);
  const fit = new Float32Array(width * height).fill(Infinity);
  const core = coreOf(window);
  const wanted = spot.from && wayTo(spot, tile);
  for (let dy = 0; dy < height; dy++) {
    for (let dx = 0; dx < width; dx++) {
      if (wanted && distanceOnTorus(tile, [dx, dy], wanted) > Math.max(2, radius)) continue;
      if (
        core.some(
          (at) =>
            isCovered[
              texelAt(tile, (at % window.width) + window.left + dx, Math.floor(at / window.width) + window.top + dy)
            ] === 1,
        )
      )
        continue;
      fit[dy * width + dx] = unlikeness(tile, ring, [dx, dy], Infinity);
    }
  }
  const chosen: [number, number][] = [];
  const apart = Math.max(1, radius / 2);
  while (chosen.length < CANDIDATES) {
    const best = fit.reduce((least, value, at) => (value < fit[least]! ? at : least), 0);
    if (!(fit[best]! < Infinity)) break;
    const place: [number, number] = [best % width, Math.floor(best / width)];
    chosen.push(place);
    fit.forEach((_, at) => {
      if (distanceOnTorus(tile, [at % width, Math.floor(at / width)], place) < apart) fit[at] = Infinity;
    });
  }
  return chosen;
}

const wayTo = ({ path, from }: Spot, tile: Image): [number, number] => {
  const [to, source] = [texelOf(path[0]!, tile), texelOf(from!, tile)];
  return [Math.round(source[0] - to[0]), Math.round(source[1] - to[1])];
};

function distanceOnTorus({ width, height }: Image, [ax, ay]: Point, [bx, by]: Point): number {
  const [dx, dy] = [wrapped(ax - bx, width, 'repeat'), wrapped(ay - by, height, 'repeat')];
  return Math.hypot(Math.min(dx, width - dx), Math.min(dy, height - dy));
}

/** Texels of the window that the brush covered; of many, some. */
function coreOf({ side }: SpotWindow): number[] {
  const all: number[] = [];
  side.forEach((each, at) => {
    if (each === CutSide.fresh) all.push(at);
  });
  const step = Math.max(1, all.length / TELLING);
  return Array.from({ length: Math.min(all.length, TELLING) }, (_, i) => all[Math.floor(i * step)]!);
}

function coverOf(tile: Image, covered: readonly Spot[]): Uint8Array {
  const cover = new Uint8Array(tile.width * tile.height);
  for (const spot of covered) {
    const window = windowOf(spot, tile);
    eachTexel(window, tile, [0, 0], (texel, at) => {
      if (window.side[at] === CutSide.fresh) cover[texel] = 1;
    });
  }
  return cover;
}

/** The place about another, by two texels at the most, whose surroundings are most like those of the spot. */
function bestAbout(tile: Image, ring: Ring, [dx, dy]: Point): [number, number] {
  let [least, best]: [number, [number, number]] = [Infinity, [dx, dy]];
  for (let j = -2; j <= 2; j++) {
    for (let i = -2; i <= 2; i++) {
      const sum = unlikeness(tile, ring, [dx + i, dy + j], least);
      if (sum >= least) continue;
      [least, best] = [sum, [dx + i, dy + j]];
    }
  }
  return best;
}

/** That whose cut costs least. */
function cheapest(tile: Image, spot: Spot, ways: readonly [number, number][]): [number, number] {
  const window = windowOf(spot, tile);
  const costs = ways.map((way) => costOfCut(new SpotMeeting(tile, window, way)));
  return ways[costs.indexOf(Math.min(...costs))]!;
}

function costOfCut(meeting: SpotMeeting): number {
  const { width, height } = meeting;
  const { cut } = leastVisibleCut(meeting);
  let sum = 0;
  for (let y = 0, at = 0; y < height; y++) {
    for (let x = 0; x < width; x++, at++) {
      if (x + 1 < width && cut[at] !== cut[at + 1]) sum += 1 + meeting.costAt(x, y, 'right');
      if (y + 1 < height && cut[at] !== cut[at + width]) sum += 1 + meeting.costAt(x, y, 'below');
    }
  }
  return sum;
}
