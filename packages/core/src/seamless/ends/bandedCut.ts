import { CutSide, minCut } from '../patches/minCut.ts';

/** Up to so many texels a cut is sought among all of them at once. */
const AT_ONCE = 4096;
/** Texels of the smaller picture to either side of its cut among which the finer one is sought. */
export const BAND = 1;

/**
 * The least visible boundary between large pictures: the minimum cut of a picture half as large, and then the minimum cut
 * within a band about it (Lombaert, Sun, Grady and Xu, "A Multilevel Banded Graph Cuts Method for Fast Image
 * Segmentation", 2005). The time grows with the length of the boundary instead of with its surroundings.
 * @returns as of `minCut`, to which small pictures go as they are
 */
export function bandedCut(difference: Int32Array, side: Uint8Array, width: number, height: number): Uint8Array {
  if (width * height <= AT_ONCE) return minCut(difference, side, width, height);
  const [w, h] = [Math.ceil(width / 2), Math.ceil(height / 2)];
  const half = halved(difference, side, width, height, w, h);
  const rough = bandedCut(half.difference, half.side, w, h);
  const settled = settledPlaces(rough, w, h);
  const banded = side.slice();
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const at = y * width + x;
      const small = (y >> 1) * w + (x >> 1);
      if (banded[at] !== CutSide.either || settled[small] === 0) continue;
      banded[at] = rough[small] === 1 ? CutSide.fresh : CutSide.old;
    }
  }
  return minCut(difference, banded, width, height);
}

/** Four texels as one: what is known of any of them is known of it, unless it is at odds. */
function halved(
  difference: Int32Array,
  side: Uint8Array,
  width: number,
  height: number,
  w: number,
  h: number,
): { difference: Int32Array; side: Uint8Array } {
  const half = { difference: new Int32Array(w * h), side: new Uint8Array(w * h) };
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      let [sum, count, old, fresh] = [0, 0, 0, 0];
      for (let j = 2 * y; j < Math.min(height, 2 * y + 2); j++) {
        for (let i = 2 * x; i < Math.min(width, 2 * x + 2); i++) {
          const at = j * width + i;
          const what = side[at]!;
          if (what === CutSide.outside) continue;
          count++;
          sum += difference[at]!;
          if (what === CutSide.old) old++;
          if (what === CutSide.fresh) fresh++;
        }
      }
      const at = y * w + x;
      half.difference[at] = count > 0 ? Math.round(sum / count) : 0;
      if (count === 0) half.side[at] = CutSide.outside;
      else if (old > 0 !== fresh > 0) half.side[at] = old > 0 ? CutSide.old : CutSide.fresh;
    }
  }
  return half;
}

/** 1 where a cut is farther away than a band to either side of it. */
export function settledPlaces(cut: Uint8Array, width: number, height: number, band = BAND): Uint8Array {
  const settled = new Uint8Array(cut.length).fill(1);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const at = y * width + x;
      const isBorder = (x + 1 < width && cut[at] !== cut[at + 1]) || (y + 1 < height && cut[at] !== cut[at + width]);
      if (!isBorder) continue;
      for (let j = Math.max(0, y - band); j <= Math.min(height - 1, y + band); j++) {
        settled.fill(0, j * width + Math.max(0, x - band), j * width + Math.min(width, x + band + 1));
      }
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
