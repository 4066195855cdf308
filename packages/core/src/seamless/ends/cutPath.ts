import type { Image } from '../../image/image.ts';
import { seamCost, type Window } from './seamCost.ts';
import { extentOf, overlapAt, requireOverlap, type Axis, type Overlap } from './overlap.ts';

/**
 * Cuts the overlap of both ends along the path where it shows least (Efros and Freeman, "Image Quilting", 2001,
 * section 2.1), found by dynamic programming. The path begins and ends at the same place, so that the cut itself repeats.
 * @param soft texels over which the cut is blended; 0 leaves it hard
 * @throws input/bad-settings
 */
export function cutOverlap(image: Image, axis: Axis, width: number, soft = 0): Overlap {
  requireOverlap(image, axis, width);
  const [, other] = extentOf(image, axis);
  // A cut at the very side of the overlap would lie on the border of the tile, and show there.
  const margin = Math.min(Math.ceil(soft) + 1, Math.floor((width - 1) / 2));
  const path = cheapestLoop(visibility(image, axis, width, margin), width - 2 * margin, other);
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

/** How much a cut would show within the margins of the overlap, as many values for each step along the path. */
function visibility(image: Image, axis: Axis, width: number, margin: number): Float64Array {
  const { channels, data } = image;
  const [, other] = extentOf(image, axis);
  const within = width - 2 * margin;
  const ends = ['start', 'end'].map((): Window => {
    const texels = within * other;
    const values = new Float32Array(texels * channels);
    return { width: within, channels, values, known: new Uint8Array(texels).fill(1) };
  }) as [Window, Window];
  for (let j = 0; j < other; j++) {
    for (let i = 0; i < within; i++) {
      const { start, end } = overlapAt(image, { axis, width }, i + margin, j);
      const to = (j * within + i) * channels;
      for (let c = 0; c < channels; c++) {
        ends[0].values[to + c] = data[start * channels + c]!;
        ends[1].values[to + c] = data[end * channels + c]!;
      }
    }
  }
  // One for each step, so that where nothing is seen the shorter way is taken.
  return Float64Array.from(seamCost(...ends), (cost) => cost + 1);
}

/**
 * The path through a grid of costs that takes one place in each row, moves by at most one, ends beside where it began,
 * and costs least. Beginnings are tried by halves: paths do not cross, so each bounds the others (Schrijver's argument
 * for shortest loops).
 * @param costs `width` values for each of `rows` rows @returns a place for each row
 */
export function cheapestLoop(costs: Float64Array, width: number, rows: number): Uint32Array {
  let best: { cost: number; path: Uint32Array } | null = null;
  const seek = (low: number, high: number, left: Uint32Array | null, right: Uint32Array | null): void => {
    if (low > high) return;
    const middle = (low + high) >> 1;
    const found = cheapestFrom(costs, width, rows, middle, left, right);
    if (found.path && (!best || found.cost < best.cost)) best = { cost: found.cost, path: found.path };
    seek(low, middle - 1, left, found.path);
    seek(middle + 1, high, found.path, right);
  };
  seek(0, width - 1, null, null);
  return best!.path;
}

/** The cheapest path that begins at a place and ends beside it, between two others. */
function cheapestFrom(
  costs: Float64Array,
  width: number,
  rows: number,
  begin: number,
  left: Uint32Array | null,
  right: Uint32Array | null,
): { cost: number; path: Uint32Array | null } {
  const back = new Int8Array(width * rows);
  // With a place at either end that no path takes.
  let last = new Float64Array(width + 2).fill(Infinity);
  let next = new Float64Array(width + 2).fill(Infinity);
  last[begin + 1] = costs[begin]!;
  for (let j = 1; j < rows; j++) {
    // Bounds move by one at the most, so that what is left over of an older row lies no farther than that.
    const from = Math.max(left ? left[j]! : 0, begin - j);
    const to = Math.min(right ? right[j]! : width - 1, begin + j);
    const row = j * width;
    next[from] = next[to + 2] = Infinity;
    if (from > 0) next[from - 1] = Infinity;
    if (to + 3 < next.length) next[to + 3] = Infinity;
    for (let i = from; i <= to; i++) {
      let least = last[i]!;
      let step = -1;
      if (last[i + 1]! < least) {
        least = last[i + 1]!;
        step = 0;
      }
      if (last[i + 2]! < least) {
        least = last[i + 2]!;
        step = 1;
      }
      next[i + 1] = least + costs[row + i]!;
      back[row + i] = step;
    }
    [last, next] = [next, last];
  }
  let end = -1;
  for (let i = Math.max(0, begin - 1); i <= Math.min(width - 1, begin + 1); i++) {
    if (last[i + 1]! < (end < 0 ? Infinity : last[end + 1]!)) end = i;
  }
  if (end < 0) return { cost: Infinity, path: null };
  const path = new Uint32Array(rows);
  let at = end;
  for (let j = rows - 1; j >= 0; j--) {
    path[j] = at;
    at += back[j * width + at]!;
  }
  return { cost: last[end + 1]!, path };
}
