import { wrapped } from '../../image/sample.ts';
import { noCost, type CutCost } from './cutCost.ts';
import { CutSide, minCut } from './minCut.ts';

/** Up to so many texels a cut is sought among all of them at once. */
const AT_ONCE = 16384;
/** Texels of the smaller picture to either side of its cut among which the finer one is sought. */
export const BAND = 1;

/**
 * The least visible boundary between large pictures: the minimum cut of a picture half as large, and then the minimum cut
 * within a band about it (Lombaert, Sun, Grady and Xu, "A Multilevel Banded Graph Cuts Method for Fast Image
 * Segmentation", 2005). The time grows with the length of the boundary instead of with its surroundings.
 * @returns as of `minCut`, to which small pictures go as they are
 */
export function bandedCut(cost: CutCost, side: Uint8Array, width: number, height: number, repeats = false): Uint8Array {
  if (width * height <= AT_ONCE) return minCut(cost, side, width, height, repeats);
  const [w, h] = [Math.ceil(width / 2), Math.ceil(height / 2)];
  const rough = bandedCut(halvedCost(cost, width, height), halvedSide(side, width, height), w, h, repeats);
  const settled = settledPlaces(rough, w, h, BAND, repeats);
  const banded = side.slice();
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const at = y * width + x;
      const small = (y >> 1) * w + (x >> 1);
      if (banded[at] !== CutSide.either || settled[small] === 0) continue;
      banded[at] = rough[small] === 1 ? CutSide.fresh : CutSide.old;
    }
  }
  return minCut(cost, banded, width, height, repeats);
}

/** Four texels as one: what is known of any of them is known of it, unless it is at odds. */
function halvedSide(side: Uint8Array, width: number, height: number): Uint8Array {
  const [w, h] = [Math.ceil(width / 2), Math.ceil(height / 2)];
  const half = new Uint8Array(w * h);
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      let [count, old, fresh] = [0, 0, 0];
      for (let j = 2 * y; j < Math.min(height, 2 * y + 2); j++) {
        for (let i = 2 * x; i < Math.min(width, 2 * x + 2); i++) {
          const what = side[j * width + i];
          if (what !== CutSide.outside) count++;
          if (what === CutSide.old) old++;
          if (what === CutSide.fresh) fresh++;
        }
      }
      if (count === 0) half[y * w + x] = CutSide.outside;
      else if (old > 0 !== fresh > 0) half[y * w + x] = old > 0 ? CutSide.old : CutSide.fresh;
    }
  }
  return half;
}

/**
 * What it costs to cut between groups of four texels: the finer cut may run through a group or beside it, wherever it
 * costs less, so that joints of one texel's width stay cheap.
 */
function halvedCost({ right, below }: CutCost, width: number, height: number): CutCost {
  const [w, h] = [Math.ceil(width / 2), Math.ceil(height / 2)];
  const half = noCost(w * h);
  for (let y = 0; y < h; y++) {
    const [top, bottom] = [2 * y * width, Math.min(height - 1, 2 * y + 1) * width];
    for (let x = 0; x < w; x++) {
      const [left, last] = [2 * x, Math.min(width - 1, 2 * x + 1)];
      const meanOf = (cost: Int32Array, one: number, other: number): number => (cost[one]! + cost[other]!) >> 1;
      half.right[y * w + x] = Math.min(
        meanOf(right, top + left, bottom + left),
        meanOf(right, top + last, bottom + last),
      );
      half.below[y * w + x] = Math.min(
        meanOf(below, top + left, top + last),
        meanOf(below, bottom + left, bottom + last),
      );
    }
  }
  return half;
}

/** 1 where a cut is farther away than a band to either side of it. @param repeats whether the first row lies below the last */
export function settledPlaces(
  cut: Uint8Array,
  width: number,
  height: number,
  band = BAND,
  repeats = false,
): Uint8Array {
  const settled = new Uint8Array(cut.length).fill(1);
  for (let at = 0; at < cut.length; at++) {
    const [x, y] = [at % width, Math.floor(at / width)];
    const below = y + 1 < height ? at + width : repeats ? x : at;
    const isBorder = (x + 1 < width && cut[at] !== cut[at + 1]) || cut[at] !== cut[below];
    if (!isBorder) continue;
    const [left, right] = [Math.max(0, x - band), Math.min(width, x + band + 1)];
    for (let j = y - band; j <= y + band + 1; j++) {
      const row = repeats ? wrapped(j, height, 'repeat') : j;
      if (row >= 0 && row < height) settled.fill(0, row * width + left, row * width + right);
    }
  }
  return settled;
}

/** How much of the new picture shows where nothing of the old does. */
export const ALL = 8;

/**
 * A cut softened by one texel to either side, for a cut is a matter of texels, an edge is not. What is known to be new
 * shows in full.
 * @returns how much of the new picture shows, in eighths
 */
export function softenedCut(cut: Uint8Array, side: Uint8Array, width: number): Uint8Array<ArrayBuffer> {
  const shows = new Uint8Array(cut.length);
  for (let at = 0; at < cut.length; at++) {
    if (side[at] === CutSide.fresh) shows[at] = ALL;
    else if (side[at] === CutSide.either) {
      shows[at] = cut[at]! * 4 + cut[at - 1]! + cut[at + 1]! + cut[at - width]! + cut[at + width]!;
    }
  }
  return shows;
}
