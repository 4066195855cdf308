import type { Image } from '../../image/image.ts';
import { noNeighbours, texelCost, type Neighbours } from './seamCost.ts';
import { extentOf, overlapAt, requireOverlap, type Axis, type Overlap } from './overlap.ts';

/** Overlaps from so many texels on are first cut roughly, by one in so many texels along both axes. */
const ROUGH_FROM = 48;
const ROUGH = 4;
/** How far from the rough path the path may be, in texels. */
const BAND = 8;

/**
 * Cuts the overlap of both ends along the path where it shows least (Efros and Freeman, "Image Quilting", 2001,
 * section 2.1), found by dynamic programming; in wide overlaps first roughly, and then among the texels about that. The
 * path begins and ends at the same place, so that the cut itself repeats.
 * @param soft texels over which the cut is blended; 0 leaves it hard
 * @throws input/bad-settings
 */
export function cutOverlap(image: Image, axis: Axis, width: number, soft = 0): Overlap {
  requireOverlap(image, axis, width);
  const [, other] = extentOf(image, axis);
  // A cut at the very side of the overlap would lie on the border of the tile, and show there.
  const margin = Math.min(Math.ceil(soft) + 1, Math.floor((width - 1) / 2));
  const path = leastVisible(image, axis, width, margin);
  const weights = new Float32Array(width * other);
  for (let j = 0; j < other; j++) {
    for (let i = 0; i < width; i++) {
      // Before the path the end of the picture shows, behind it the beginning.
      const behind = i - margin - path[j]!;
      const share = soft > 0 ? 0.5 - behind / (2 * soft) : behind < 0 ? 1 : behind > 0 ? 0 : 0.5;
      weights[overlapAt(image, { axis, width }, i, j).weight] = Math.max(0, Math.min(1, share));
    }
  }
  return { axis, width, weights };
}

/** The path within the margins of the overlap along which a cut shows least: a place for each step across it. */
function leastVisible(image: Image, axis: Axis, width: number, margin: number): Uint32Array {
  const [, rows] = extentOf(image, axis);
  const within = width - 2 * margin;
  const costAt = overlapCost(image, axis, width, margin);
  const costs = new Int32Array(within * rows);
  const fill = (j: number, from: number, to: number): void => {
    for (let i = from; i <= to; i++) costs[j * within + i] = costAt(i, j);
  };
  if (within < ROUGH_FROM || rows < ROUGH_FROM) {
    for (let j = 0; j < rows; j++) fill(j, 0, within - 1);
    return cheapestLoop(costs, within, rows);
  }
  const [w, h] = [Math.floor(within / ROUGH), Math.ceil(rows / ROUGH)];
  const half = ROUGH >> 1;
  const rough = Int32Array.from({ length: w * h }, (_, at) =>
    costAt((at % w) * ROUGH + half, Math.min(rows - 1, Math.floor(at / w) * ROUGH + half)),
  );
  const path = cheapestLoop(rough, w, h);
  const [left, right] = [new Uint32Array(rows), new Uint32Array(rows)];
  for (let j = 0; j < rows; j++) {
    const place = (j - half) / ROUGH;
    const row = Math.max(0, Math.min(h - 1, Math.floor(place)));
    const share = Math.max(0, Math.min(1, place - row));
    const from = path[row]!;
    const middle = Math.round((from + (path[Math.min(h - 1, row + 1)]! - from) * share) * ROUGH) + half;
    left[j] = Math.max(0, middle - BAND);
    right[j] = Math.min(within - 1, middle + BAND);
    fill(j, left[j]!, right[j]!);
  }
  return cheapestLoop(costs, within, rows, { left, right });
}

/** Tells what a cut would cost at a place within the margins of the overlap: 1 or more, so that the shorter way is taken. */
function overlapCost(image: Image, axis: Axis, width: number, margin: number): (i: number, j: number) => number {
  const { channels, data } = image;
  const [along, rows] = extentOf(image, axis);
  const [across, down] = axis === 'across' ? [1, image.width] : [image.width, 1];
  const gap = (along - width) * across;
  const last = width - 2 * margin - 1;
  const [here, there] = [noNeighbours(), noNeighbours()];
  const find = (to: Neighbours, at: number, i: number, j: number): void => {
    to.at = at;
    to.left = i > 0 ? at - across : at;
    to.right = i < last ? at + across : at;
    to.above = j > 0 ? at - down : at;
    to.below = j < rows - 1 ? at + down : at;
  };
  return (i, j) => {
    const at = (i + margin) * across + j * down;
    find(here, at, i, j);
    find(there, at + gap, i, j);
    return 1 + texelCost(data, here, data, there, channels);
  };
}

/** Dearer than any path. */
const NO_WAY = 2 ** 30;

/**
 * The path through a grid of costs that takes one place in each row, moves by at most one, ends beside where it began,
 * and costs least. Beginnings are tried by halves: paths do not cross, so each bounds the others (Schrijver's argument
 * for shortest loops).
 * @param costs `width` values for each of `rows` rows; whole numbers whose sum along a path is below 2³⁰
 * @param bounds what the path does not go beyond, in each row; they move by one at the most
 * @returns a place for each row
 */
export function cheapestLoop(
  costs: Int32Array,
  width: number,
  rows: number,
  bounds: { left: Uint32Array; right: Uint32Array } | null = null,
): Uint32Array {
  let best: { cost: number; path: Uint32Array } | null = null;
  const back = new Int8Array(width * rows);
  const seek = (low: number, high: number, left: Uint32Array | null, right: Uint32Array | null): void => {
    if (low > high) return;
    const middle = (low + high) >> 1;
    const found = cheapestFrom(costs, width, rows, middle, left, right, back);
    if (found.path && (!best || found.cost < best.cost)) best = { cost: found.cost, path: found.path };
    seek(low, middle - 1, left, found.path ?? right);
    seek(middle + 1, high, found.path ?? left, right);
  };
  const left = bounds?.left ?? null;
  const right = bounds?.right ?? null;
  seek(left?.[0] ?? 0, right?.[0] ?? width - 1, left, right);
  return best!.path;
}

/**
 * The cheapest path that begins at a place and ends beside it, between two others.
 * @param back room for the step to each place
 */
function cheapestFrom(
  costs: Int32Array,
  width: number,
  rows: number,
  begin: number,
  left: Uint32Array | null,
  right: Uint32Array | null,
  back: Int8Array,
): { cost: number; path: Uint32Array | null } {
  // With a place at either end that no path takes.
  let last = new Int32Array(width + 2).fill(NO_WAY);
  let next = new Int32Array(width + 2).fill(NO_WAY);
  last[begin + 1] = costs[begin]!;
  for (let j = 1; j < rows; j++) {
    // Bounds move by one at the most, so that what is left over of an older row lies no farther than that.
    const from = Math.max(left ? left[j]! : 0, begin - j);
    const to = Math.min(right ? right[j]! : width - 1, begin + j);
    next[from] = next[to + 2] = NO_WAY;
    if (from > 0) next[from - 1] = NO_WAY;
    if (to + 3 < next.length) next[to + 3] = NO_WAY;
    stepOn(costs, j * width, from, to, last, next, back);
    [last, next] = [next, last];
  }
  let end = -1;
  for (let i = Math.max(0, begin - 1); i <= Math.min(width - 1, begin + 1); i++) {
    if (last[i + 1]! < (end < 0 ? NO_WAY : last[end + 1]!)) end = i;
  }
  if (end < 0) return { cost: NO_WAY, path: null };
  const path = new Uint32Array(rows);
  let at = end;
  for (let j = rows - 1; j >= 0; j--) {
    path[j] = at;
    at += back[j * width + at]!;
  }
  return { cost: last[end + 1]!, path };
}

/** The cheapest way to each place of a row, by one of three places of the row before. */
function stepOn(
  costs: Int32Array,
  row: number,
  from: number,
  to: number,
  last: Int32Array,
  next: Int32Array,
  back: Int8Array,
): void {
  let [a, b] = [last[from]!, last[from + 1]!];
  for (let i = from; i <= to; i++) {
    const c = last[i + 2]!;
    const least = Math.min(a, b, c);
    // The first of those that cost the same.
    back[row + i] = least === a ? -1 : least === b ? 0 : 1;
    next[i + 1] = Math.min(NO_WAY, least + costs[row + i]!);
    a = b;
    b = c;
  }
}
