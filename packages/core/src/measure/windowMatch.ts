import type { Image } from '../image/image.ts';
import { randomNumbers } from '../math/randomNumbers.ts';

/** Windows are squares of so many samples along each side. */
export const WINDOW = 9;
const HALF = (WINDOW - 1) / 2;

/** A grid of windows over a picture of one channel. */
export interface WindowGrid {
  columns: number;
  rows: number;
  /** Texels from one window to the next. */
  stride: number;
  /** Texels from one sample of a window to the next. */
  spacing: number;
}

/** For each window of a grid the best place that was found for it. */
export interface WindowMatches {
  /** Mean squared difference of samples. */
  costs: Float32Array;
  /** Middle of the window that is like it, in texels of the source. */
  x: Int32Array;
  y: Int32Array;
}

export interface MatchOptions {
  grid: WindowGrid;
  /** Windows of the picture whose middles are closer than this, in texels, are not compared: for a picture with itself. */
  apart?: number;
  /** How often all windows are gone through: more for a picture that is mostly found in the source, where it is quick. */
  rounds: number;
  /** Throws to stop. */
  check?: (() => void) | undefined;
}

/**
 * For each window of a picture a window of a source that is like it: guesses at random, handed on to neighbours and
 * refined, round by round (Barnes, Shechtman, Finkelstein and Goldman, "PatchMatch: A Randomized Correspondence Algorithm
 * for Structural Image Editing", 2009). The same pictures give the same matches.
 * @param picture one channel; windows go round its borders if `repeats`
 * @param source one channel; its windows lie within it
 * @returns null where the source is smaller than a window
 */
export function matchWindows(
  picture: Image,
  repeats: boolean,
  source: Image,
  { grid, apart = 0, rounds, check }: MatchOptions,
): WindowMatches | null {
  const { columns, rows, stride, spacing } = grid;
  const margin = HALF * spacing;
  const [right, bottom] = [source.width - 1 - margin, source.height - 1 - margin];
  if (right < margin || bottom < margin) return null;
  const count = columns * rows;
  const windows = windowsOf(picture, repeats, grid);
  const taps = tapsOf(source.width, spacing);
  const { data } = source;
  const found = { costs: new Float32Array(count).fill(Infinity), x: new Int32Array(count), y: new Int32Array(count) };
  const random = randomNumbers(1);
  const [firstX, firstY] = repeats ? [0, 0] : [margin, margin];

  const consider = (i: number, px: number, py: number, x: number, y: number): void => {
    if (x < margin || y < margin || x > right || y > bottom) return;
    if (apart > 0 && Math.abs(x - px) < apart && Math.abs(y - py) < apart) return;
    const most = found.costs[i]! * taps.length;
    const middle = y * source.width + x;
    let cost = 0;
    for (let k = 0, at = i * taps.length; k < taps.length; k++, at++) {
      const off = data[middle + taps[k]!]! - windows[at]!;
      cost += off * off;
      if (cost >= most) return;
    }
    found.costs[i] = cost / taps.length;
    found.x[i] = x;
    found.y[i] = y;
  };

  for (let round = 0; round < rounds; round++) {
    check?.();
    const way = round % 2 === 0 ? 1 : -1;
    for (let n = 0; n < count; n++) {
      const i = way === 1 ? n : count - 1 - n;
      if (found.costs[i] === 0) continue;
      const [column, row] = [i % columns, Math.floor(i / columns)];
      const [px, py] = [firstX + column * stride, firstY + row * stride];
      // Where neighbours were found, as far beside as they are.
      const [beside, above] = [column - way, row - way];
      if (beside >= 0 && beside < columns) {
        const j = i - way;
        consider(i, px, py, found.x[j]! + way * stride, found.y[j]!);
      }
      if (above >= 0 && above < rows) {
        const j = i - way * columns;
        consider(i, px, py, found.x[j]!, found.y[j]! + way * stride);
      }
      // At random, about the best so far, ever closer.
      for (let reach = Math.max(source.width, source.height); reach >= 1; reach /= 2) {
        const isFirst = found.costs[i] === Infinity;
        const [x, y] = isFirst
          ? [margin + random() * (right - margin), margin + random() * (bottom - margin)]
          : [found.x[i]! + (random() * 2 - 1) * reach, found.y[i]! + (random() * 2 - 1) * reach];
        consider(i, px, py, Math.round(x), Math.round(y));
      }
    }
  }
  return found;
}

/** Where the samples of a window lie from its middle, in a picture of a width. */
function tapsOf(width: number, spacing: number): Int32Array {
  const taps = new Int32Array(WINDOW * WINDOW);
  for (let j = 0, k = 0; j < WINDOW; j++) {
    for (let i = 0; i < WINDOW; i++, k++) taps[k] = ((j - HALF) * width + (i - HALF)) * spacing;
  }
  return taps;
}

/** The samples of all windows, one window after the other. */
function windowsOf({ width, height, data }: Image, repeats: boolean, grid: WindowGrid): Float32Array {
  const { columns, rows, stride, spacing } = grid;
  const samples = new Float32Array(columns * rows * WINDOW * WINDOW);
  const first = repeats ? -HALF * spacing : 0;
  const within = (at: number, size: number): number => ((at % size) + size) % size;
  for (let row = 0, at = 0; row < rows; row++) {
    for (let column = 0; column < columns; column++) {
      for (let j = 0; j < WINDOW; j++) {
        const line = within(first + row * stride + j * spacing, height) * width;
        for (let i = 0; i < WINDOW; i++, at++) {
          samples[at] = data[line + within(first + column * stride + i * spacing, width)]!;
        }
      }
    }
  }
  return samples;
}

/** Windows over a picture: as close as their samples, or farther apart where there would be more than `most`. */
export function gridOver({ width, height }: Image, repeats: boolean, spacing: number, most: number): WindowGrid {
  const room = repeats ? 0 : 2 * HALF * spacing;
  const [w, h] = [Math.max(1, width - room), Math.max(1, height - room)];
  const stride = Math.max(spacing, Math.ceil(Math.sqrt((w * h) / most)));
  return { columns: Math.ceil(w / stride), rows: Math.ceil(h / stride), stride, spacing };
}
