// What each place of a height field sees of the sky in one upright cut: both horizons, and the sky between them in closed
// form (Jimenez and others 2016, section 4). Every texel within reach counts, but blocks of them are passed over whose
// highest would not rise above the horizon that is known already.
import { addressAt, floatAt, wholeAt } from '../numbers';
import { atan } from './functions';

/** Places of a block, and blocks of a large one. */
const BLOCK = 16;
const NONE: f32 = -1e30;

/**
 * Adds the sky of one cut to a picture, along some of the lines that all places of the cut lie on.
 * Numbers: heights in texels, what the sky is added to, width, height, whether the picture repeats, steps that a horizon
 * may be away, cosine, sine, columns of a line drawn out by the steps at both ends, how far down each of them lies, the
 * first line, how many, how many a task has, what 1 is divided by each number of steps and by 32 more, floats from row to
 * row of both pictures.
 * @param room eight numbers for each place of a line drawn out and 64 more
 */
export function skyOfLines(numbers: usize, task: i32, room: usize): void {
  const field = addressAt(numbers, 0);
  const sky = addressAt(numbers, 1);
  const width = wholeAt(numbers, 2);
  const height = wholeAt(numbers, 3);
  const repeats = wholeAt(numbers, 4) !== 0;
  const steps = wholeAt(numbers, 5);
  const cos = floatAt(numbers, 6);
  const sin = floatAt(numbers, 7);
  const columns = addressAt(numbers, 8);
  const shifts = addressAt(numbers, 9);
  const first = wholeAt(numbers, 10);
  const lines = wholeAt(numbers, 11);
  const atOnce = wholeAt(numbers, 12);
  const inverse = addressAt(numbers, 13);
  const row = wholeAt(numbers, 14);
  const list = <usize>(((width + 2 * steps) << 2) + 64);
  const line = room;
  const turned = line + list;
  const rows = turned + list;
  const leans = rows + list;
  const floors = leans + 2 * list;
  const behind = floors + list;
  // Read from its end, and then a little before its begin.
  const ahead = behind + list + 16;
  const blocks = ahead + list;
  const perStep: f32 = abs(cos);
  const end = min(lines, (task + 1) * atOnce);
  for (let k = task * atOnce; k < end; k++) {
    const top = first + k;
    let from = 0;
    let to = width;
    if (!repeats) {
      while (from < to && isOutside(top, shifts, steps + from, height)) from++;
      while (to > from && isOutside(top, shifts, steps + to - 1, height)) to--;
    }
    const count = to - from;
    if (count < 1) continue;
    const total = count + 2 * steps;
    for (let i = 0; i < total; i++) {
      const at = <usize>(from + i) << 2;
      const y = within(top + load<i32>(shifts + at), height, repeats);
      store<i32>(rows + (<usize>i << 2), y);
      const value = load<f32>(field + (<usize>(y * row + load<i32>(columns + at)) << 2));
      store<f32>(line + (<usize>i << 2), value);
      store<f32>(turned + (<usize>(total - 1 - i) << 2), value);
    }
    const own = rows + (<usize>steps << 2);
    leansOf(field, row, width, height, repeats, cos, sin, from, own, count, leans);
    // No horizon is lower than the surface itself.
    const along: f32 = cos >= 0 ? 1 / perStep : -1 / perStep;
    for (let i = 0; i < count; i++) {
      store<f32>(floors + (<usize>i << 2), load<f32>(leans + (<usize>i << 3)) * along);
    }
    horizons(line, steps, count, floors, behind, blocks, inverse);
    for (let i = 0; i < count; i++) {
      store<f32>(floors + (<usize>(count - 1 - i) << 2), -load<f32>(leans + (<usize>i << 3)) * along);
    }
    horizons(turned, steps, count, floors, ahead, blocks, inverse);
    addSky(sky, row, cos, from, own, leans, behind, ahead, count);
  }
}

@inline
function isOutside(top: i32, shifts: usize, i: i32, height: i32): bool {
  const y = top + load<i32>(shifts + (<usize>i << 2));
  return y < 0 || y >= height;
}

@inline
function within(y: i32, size: i32, repeats: bool): i32 {
  if (<u32>y < <u32>size) return y;
  if (!repeats) return y < 0 ? 0 : size - 1;
  const rest = y % size;
  return rest < 0 ? rest + size : rest;
}

/**
 * How much the horizon behind each point of a line rises with each step, looking no farther than `reach` steps.
 * @param line heights, the first `reach` of them only looked at
 * @param floors for each of `count` points after those what its horizon is not below
 * @param out told the rise for each of them
 * @param blocks room for the highest of each block, and of each large one
 * @param inverse 1 divided by each number of steps
 */
function horizons(
  line: usize,
  reach: i32,
  count: i32,
  floors: usize,
  out: usize,
  blocks: usize,
  inverse: usize,
): void {
  const total = reach + count;
  const blockCount = (total + BLOCK - 1) / BLOCK;
  const large = blocks + (<usize>blockCount << 2) + 64;
  highestOf(line, total, blocks);
  highestOf(blocks, blockCount, large);
  for (let p = reach; p < total; p += 4) {
    const height = v128.load(line + (<usize>p << 2));
    let best = v128.load(floors + (<usize>(p - reach) << 2));
    let block = p / BLOCK;
    const near = min(reach, p + 3 - block * BLOCK);
    for (let d = 1; d <= near; d++) {
      const rise = f32x4.sub(v128.load(line + (<usize>(p - d) << 2)), height);
      best = f32x4.pmax(best, f32x4.mul(rise, v128.load32_splat(inverse + (<usize>d << 2))));
    }
    const last = (p - reach) / BLOCK;
    for (block--; block >= last; block--) {
      const nearest = v128.load(inverse + (<usize>(p - block * BLOCK - BLOCK + 1) << 2));
      if ((block & (BLOCK - 1)) === BLOCK - 1) {
        const farthest = v128.load(inverse + (<usize>min(reach, p + 3 - (block - BLOCK + 1) * BLOCK) << 2));
        if (!mayRise(large, block / BLOCK, height, nearest, farthest, best)) {
          block -= BLOCK - 1;
          continue;
        }
      }
      const farthest = v128.load(inverse + (<usize>min(reach, p - block * BLOCK) << 2));
      if (!mayRise(blocks, block, height, nearest, farthest, best)) continue;
      const start = block * BLOCK;
      if (p + 3 - start <= reach) {
        for (let q = start + BLOCK - 1; q >= start; q--) best = f32x4.pmax(best, riseTo(line, q, height, p, inverse));
      } else {
        const lanes = i32x4(0, 1, 2, 3);
        for (let q = start + BLOCK - 1; q >= start; q--) {
          const isBeyond = i32x4.gt_s(i32x4.add(i32x4.splat(p - q), lanes), i32x4.splat(reach));
          best = v128.bitselect(best, f32x4.pmax(best, riseTo(line, q, height, p, inverse)), isBeyond);
        }
      }
    }
    v128.store(out + (<usize>(p - reach) << 2), best);
  }
}

@inline
function riseTo(line: usize, q: i32, height: v128, p: i32, inverse: usize): v128 {
  const rise = f32x4.sub(v128.load32_splat(line + (<usize>q << 2)), height);
  return f32x4.mul(rise, v128.load(inverse + (<usize>(p - q) << 2)));
}

/** Whether the highest of a block could rise above what is known: lower places look highest from farthest off. */
@inline
function mayRise(highest: usize, block: i32, height: v128, nearest: v128, farthest: v128, best: v128): bool {
  const rise = f32x4.sub(v128.load32_splat(highest + (<usize>block << 2)), height);
  const most = f32x4.pmax(f32x4.mul(rise, nearest), f32x4.mul(rise, farthest));
  return v128.any_true(f32x4.gt(most, best));
}

/** The highest of each block of a list. */
function highestOf(list: usize, count: i32, out: usize): void {
  for (let from = 0, block = 0; from < count; from += BLOCK, block++) {
    let highest = NONE;
    const end = min(count, from + BLOCK);
    for (let i = from; i < end; i++) highest = max(highest, load<f32>(list + (<usize>i << 2)));
    store<f32>(out + (<usize>block << 2), highest);
  }
}

/** How far the normal leans within the cut, and how long it is if it is one upwards, for all texels of a line. */
function leansOf(
  field: usize,
  row: i32,
  width: i32,
  height: i32,
  repeats: bool,
  cos: f32,
  sin: f32,
  from: i32,
  rows: usize,
  count: i32,
  out: usize,
): void {
  for (let i = 0; i < count; i++) {
    const slope = slopeAt(field, row, from + i, load<i32>(rows + (<usize>i << 2)), width, height, repeats);
    const across = f32x4.extract_lane(slope, 0);
    const down = f32x4.extract_lane(slope, 1);
    const at = out + (<usize>i << 3);
    store<f32>(at, -(across * cos + down * sin));
    store<f32>(at, sqrt<f32>(across * across + down * down + 1), 4);
  }
}

/**
 * Adds the sky between both horizons, weighed by the cosine to the surface's own normal, for all texels of a line.
 * @param from the column of its first
 * @param rows the row of each
 * @param leans two numbers for each
 * @param ahead the last first
 */
function addSky(
  sky: usize,
  row: i32,
  cos: f32,
  from: i32,
  rows: usize,
  leans: usize,
  behind: usize,
  ahead: usize,
  count: i32,
): void {
  const perStep = f32x4.splat(abs(cos));
  const one = f32x4.splat(1);
  const two = f32x4.splat(2);
  for (let i = 0; i < count; i += 4) {
    const pairs = leans + (<usize>i << 3);
    const low = v128.load(pairs);
    const high = v128.load(pairs, 16);
    const lean = v128.shuffle<f32>(low, high, 0, 2, 4, 6);
    const length = v128.shuffle<f32>(low, high, 1, 3, 5, 7);
    const inCut = f32x4.sqrt(f32x4.add(f32x4.mul(lean, lean), one));
    const cosLean = f32x4.div(one, inCut);
    const sinLean = f32x4.mul(lean, cosLean);
    const back = v128.load(behind + (<usize>i << 2));
    const last = v128.load(ahead + (<usize>count << 2) - (<usize>i << 2) - 16);
    const forth = v128.shuffle<f32>(last, last, 3, 2, 1, 0);
    const rise = f32x4.mul(cos >= 0 ? forth : back, perStep);
    const fall = f32x4.mul(cos >= 0 ? back : forth, perStep);
    const rises = f32x4.add(f32x4.mul(rise, rise), one);
    const falls = f32x4.add(f32x4.mul(fall, fall), one);
    const ahead2 = f32x4.add(
      f32x4.mul(f32x4.sub(rises, two), cosLean),
      f32x4.mul(f32x4.mul(two, rise), sinLean),
    );
    const behind2 = f32x4.sub(
      f32x4.mul(f32x4.sub(falls, two), cosLean),
      f32x4.mul(f32x4.mul(two, fall), sinLean),
    );
    const turned = f32x4.add(f32x4.div(ahead2, rises), f32x4.div(behind2, falls));
    const angle = f32x4.sub(atan(fall), atan(rise));
    const open = f32x4.add(
      f32x4.sub(f32x4.mul(two, cosLean), turned),
      f32x4.mul(f32x4.mul(two, angle), sinLean),
    );
    const seen = f32x4.mul(f32x4.mul(f32x4.div(inCut, length), open), f32x4.splat(0.25));
    addAt(sky, row, rows, from, i, f32x4.extract_lane(seen, 0));
    if (i + 1 < count) addAt(sky, row, rows, from, i + 1, f32x4.extract_lane(seen, 1));
    if (i + 2 < count) addAt(sky, row, rows, from, i + 2, f32x4.extract_lane(seen, 2));
    if (i + 3 < count) addAt(sky, row, rows, from, i + 3, f32x4.extract_lane(seen, 3));
  }
}

@inline
function addAt(sky: usize, row: i32, rows: usize, from: i32, i: i32, seen: f32): void {
  const at = sky + (<usize>(load<i32>(rows + (<usize>i << 2)) * row + from + i) << 2);
  store<f32>(at, load<f32>(at) + seen);
}

/** Slopes by Scharr's operator: across in the first lane, down in the second. */
function slopeAt(field: usize, row: i32, x: i32, y: i32, width: i32, height: i32, repeats: bool): v128 {
  const left = x > 0 ? x - 1 : repeats ? width - 1 : 0;
  const right = x < width - 1 ? x + 1 : repeats ? 0 : width - 1;
  const over = y > 0 ? y - 1 : repeats ? height - 1 : 0;
  const under = y < height - 1 ? y + 1 : repeats ? 0 : height - 1;
  const above = field + (<usize>(over * row) << 2);
  const here = field + (<usize>(y * row) << 2);
  const below = field + (<usize>(under * row) << 2);
  const l = <usize>left << 2;
  const r = <usize>right << 2;
  const c = <usize>x << 2;
  const upperLeft = load<f32>(above + l);
  const upperRight = load<f32>(above + r);
  const lowerLeft = load<f32>(below + l);
  const lowerRight = load<f32>(below + r);
  const side: f32 = 3.0 / 32.0;
  const middle: f32 = 10.0 / 32.0;
  let across =
    side * (upperRight - upperLeft + lowerRight - lowerLeft) + middle * (load<f32>(here + r) - load<f32>(here + l));
  let down =
    side * (lowerLeft - upperLeft + lowerRight - upperRight) + middle * (load<f32>(below + c) - load<f32>(above + c));
  // At a border that does not repeat, the step is but one texel long.
  if (!repeats && (x === 0 || x === width - 1)) across *= 2;
  if (!repeats && (y === 0 || y === height - 1)) down *= 2;
  return f32x4(across, down, 0, 0);
}
