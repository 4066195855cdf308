// What each place of a height field sees of the sky in one upright cut: both horizons, and the sky between them in closed
// form (Jimenez and others 2016, section 4). Four neighbouring lines of a cut are walked along at a time. Every texel
// within reach counts, but blocks of them are passed over: each has a straight line that it nowhere rises above, and where
// that would not rise above the horizon that is known already, nothing of the block does.
import { addressAt, floatAt, wholeAt } from '../numbers';
import { atan } from './functions';

/** Bytes that four lines take for each step. */
const FOUR: usize = 16;
const NONE: f32 = -1e30;
/** Bytes of a block's line, at its far and at its near end. */
const LINE: usize = 2 * FOUR;

/**
 * Pictures lie in slabs of so many columns, each row by row, so that what is walked along lies together. Each has four
 * more columns at either side, which are read and written where four lines run across a side, and there are eight columns
 * at either side of the picture. Mirrored by src/derive/slabs.ts.
 */
const SLAB = 64;
const BESIDE = 4;
const MARGIN = 8;
const ROW: usize = (SLAB + 2 * BESIDE) << 2;

/** The four texels from a column on in the first row of a picture in slabs. */
@inline
function columnsAt(picture: usize, slab: usize, x: i32): usize {
  const place = x + MARGIN;
  return picture + <usize>(place / SLAB) * slab + (<usize>((place & (SLAB - 1)) + BESIDE) << 2);
}

/**
 * Adds the sky of one cut to a picture. Lines of the cut take one step down at a time, and a table tells how far across.
 * Numbers: heights (in texels), what the sky is added to, both in slabs; width, height, whether the picture
 * repeats, steps that a horizon may be away, cosine and sine (down and across), row of each place of a line drawn out by
 * as many at both ends, and to a multiple of four, how far across each of them lies (from 0 to below the width if the
 * picture repeats), the first line, how many, how many fours of lines a task has, 1 divided by each number of steps, bytes
 * of a slab, factor of slopes across at each column.
 * @param room seven times 16 bytes for each place of a line drawn out and 64 more
 */
export function skyOfLines(numbers: usize, task: i32, room: usize): void {
  const field = addressAt(numbers, 0);
  const sky = addressAt(numbers, 1);
  const width = wholeAt(numbers, 2);
  const height = wholeAt(numbers, 3);
  const repeats = wholeAt(numbers, 4) !== 0;
  const reach = wholeAt(numbers, 5);
  const before = (reach + 3) & ~3;
  const cos = floatAt(numbers, 6);
  const sin = floatAt(numbers, 7);
  const rows = addressAt(numbers, 8);
  const shifts = addressAt(numbers, 9);
  const first = wholeAt(numbers, 10);
  const lines = wholeAt(numbers, 11);
  const atOnce = wholeAt(numbers, 12);
  const inverse = addressAt(numbers, 13);
  const slab = addressAt(numbers, 14);
  const doublings = addressAt(numbers, 15);
  const list = <usize>(height + 2 * before + 64) * FOUR;
  const line = room;
  const turned = line + list;
  const leans = turned + list;
  const floors = leans + 2 * list;
  const behind = floors + list;
  const blocks = behind + list;
  const end = min(lines, (task + 1) * atOnce * 4);
  for (let k = task * atOnce * 4; k < end; k += 4) {
    const left = first + k;
    let from = 0;
    let to = height;
    if (!repeats) {
      while (from < to && isOutside(left, shifts, before + from, width)) from++;
      while (to > from && isOutside(left, shifts, before + to - 1, width)) to--;
    }
    const count = to - from;
    if (count < 1) continue;
    const total = count + 2 * before;
    for (let i = 0; i < total; i++) {
      const at = <usize>(from + i) << 2;
      const x = within(left + load<i32>(shifts + at), width, repeats);
      const heights = v128.load(columnsAt(field, slab, x) + <usize>load<u32>(rows + at) * ROW);
      v128.store(line + <usize>i * FOUR, heights);
      v128.store(turned + <usize>(total - 1 - i) * FOUR, heights);
    }
    // No horizon is lower than the surface itself.
    const along = f32x4.splat(1 / cos);
    for (let i = 0; i < count; i++) {
      const at = <usize>(from + before + i) << 2;
      const y = <usize>load<u32>(rows + at);
      const x = within(left + load<i32>(shifts + at), width, repeats);
      const out = leans + <usize>i * 2 * FOUR;
      leansOf(columnsAt(field, slab, x), y, <usize>height, repeats, cos, sin, doublings + (<usize>x << 2), out);
      v128.store(floors + <usize>i * FOUR, f32x4.mul(v128.load(out), along));
    }
    horizons(line, before, count, reach, floors, behind, blocks, inverse);
    for (let i = 0; i < count; i++) {
      const own = v128.load(leans + <usize>(count - 1 - i) * 2 * FOUR);
      v128.store(floors + <usize>i * FOUR, f32x4.neg(f32x4.mul(own, along)));
    }
    // In the place of the floors, each of which is read before.
    horizons(turned, before, count, reach, floors, floors, blocks, inverse);
    const lanes = min(4, lines - k);
    for (let i = 0; i < count; i++) {
      const at = <usize>(from + before + i) << 2;
      const x = within(left + load<i32>(shifts + at), width, repeats);
      const rise = v128.load(floors + <usize>(count - 1 - i) * FOUR);
      const fall = v128.load(behind + <usize>i * FOUR);
      const own = leans + <usize>i * 2 * FOUR;
      const seen = skyBetween(rise, fall, v128.load(own), v128.load(own, FOUR), cos);
      add(columnsAt(sky, slab, x) + <usize>load<u32>(rows + at) * ROW, seen, lanes);
    }
  }
}

@inline
function isOutside(left: i32, shifts: usize, i: i32, width: i32): bool {
  const x = left + load<i32>(shifts + (<usize>i << 2));
  return x <= -4 || x >= width;
}

/** The column of the first of four lines; beyond a side that does not repeat, all columns are like that at the side. */
@inline
function within(x: i32, width: i32, repeats: bool): i32 {
  if (repeats) return x >= width ? x - width : x;
  return max(-4, min(width, x));
}

/** What is known of the horizons of four places behind each other: how much each rises with each step, */
const RISES: usize = 0;
/** what a height must be above, if as much is added for each step it lies after the first place, to rise more than that, */
const BOUNDS: usize = 4 * FOUR;
/** and of the last of them what height it is, and how many steps away. */
const HIGHEST: usize = 8 * FOUR;
const DISTANCE: usize = 9 * FOUR;
const KNOWN: usize = 10 * FOUR;

/**
 * How much the horizon behind each place of four lines rises with each step, looking no farther than `reach` steps. Four
 * places of each line are looked back from at a time.
 * @param line heights, the first `before` of them, a multiple of four, only looked at
 * @param floors for each of `count` places after those what its horizon is not below
 * @param out told the rise for each of them, and some behind
 * @param room for the lines over each block of 4, 16 and 64 steps
 * @param inverse 1 divided by each number of steps
 */
function horizons(
  line: usize,
  before: i32,
  count: i32,
  reach: i32,
  floors: usize,
  out: usize,
  room: usize,
  inverse: usize,
): void {
  const total = before + count;
  const fours = room + KNOWN;
  const sixteens = fours + <usize>(total >> 2) * LINE;
  const large = sixteens + <usize>(total >> 4) * LINE;
  coverSteps(line, total >> 2, fours);
  coverBlocks(fours, total >> 4, 4, sixteens);
  coverBlocks(sixteens, total >> 6, 16, large);
  v128.store(room + HIGHEST, f32x4.splat(NONE));
  v128.store(room + DISTANCE, f32x4.splat(1));
  for (let p = before; p < total; p += 4) {
    guess(line + <usize>p * FOUR, reach, floors + <usize>(p - before) * FOUR, inverse, room);
    const nearest = (p >> 2) - 1;
    const last = (p - reach) >> 2;
    let block = nearest;
    while (block >= last) {
      const x = (block << 2) - p;
      // Of those that are no longer than they are away.
      if ((block & 3) === 3) {
        if ((block & 15) === 15 && block < nearest - 3 && !mayRise(large + <usize>(block >> 4) * LINE, x - 60, 64, room)) {
          block -= 16;
          continue;
        }
        if (block < nearest && !mayRise(sixteens + <usize>(block >> 2) * LINE, x - 12, 16, room)) {
          block -= 4;
          continue;
        }
      }
      const over = fours + <usize>block * LINE;
      if (mayRise(over, x, 4, room)) look(line, p, x, reach, inverse, room);
      block--;
    }
    for (let k: usize = 0; k < 4 * FOUR; k += FOUR) {
      v128.store(out + <usize>(p - before) * FOUR + k, v128.load(room + RISES + k));
    }
  }
}

/**
 * A first guess at the horizons of four places: that of the place before most often is near theirs, or has just come out
 * of reach; then what has taken its place at the farthest is as good.
 */
@inline
function guess(here: usize, reach: i32, floors: usize, inverse: usize, known: usize): void {
  const farthest = f32x4.splat(<f32>reach);
  const farthestInverse = v128.load32_splat(inverse + (<usize>reach << 2));
  let highest = v128.load(known + HIGHEST);
  let distance = v128.load(known + DISTANCE);
  for (let k: i32 = 0; k < 4; k++) {
    const own = here + <usize>k * FOUR;
    const height = v128.load(own);
    let best = v128.load(floors + <usize>k * FOUR);
    distance = f32x4.add(distance, f32x4.splat(1));
    const still = f32x4.div(f32x4.sub(highest, height), distance);
    best = v128.bitselect(f32x4.pmax(best, still), best, f32x4.le(distance, farthest));
    const other = v128.load(own - <usize>reach * FOUR);
    const rise = f32x4.mul(f32x4.sub(other, height), farthestInverse);
    const isMore = f32x4.gt(rise, best);
    best = v128.bitselect(rise, best, isMore);
    highest = v128.bitselect(other, highest, isMore);
    distance = v128.bitselect(farthest, distance, isMore);
    // Those before it of the four.
    for (let away = 1, end = min(k, reach); away <= end; away++) {
      const other = v128.load(own - <usize>away * FOUR);
      const rise = f32x4.mul(f32x4.sub(other, height), v128.load32_splat(inverse + (<usize>away << 2)));
      const isMore = f32x4.gt(rise, best);
      best = v128.bitselect(rise, best, isMore);
      highest = v128.bitselect(other, highest, isMore);
      distance = v128.bitselect(f32x4.splat(<f32>away), distance, isMore);
    }
    keep(known, k, height, best);
  }
  v128.store(known + HIGHEST, highest);
  v128.store(known + DISTANCE, distance);
}

@inline
function keep(known: usize, k: i32, height: v128, best: v128): void {
  const at = known + <usize>k * FOUR;
  v128.store(at, best, RISES);
  v128.store(at, f32x4.add(height, f32x4.mul(best, f32x4.splat(<f32>k))), BOUNDS);
}

/**
 * Whether a block could rise above what is known: the line over it would at one of its ends.
 * @param x steps from the first of the places to the block's far end, below 0
 */
@inline
function mayRise(over: usize, x: i32, size: i32, known: usize): bool {
  const far = v128.load(over);
  const near = v128.load(over, FOUR);
  const farX = f32x4.splat(<f32>x);
  const nearX = f32x4.add(farX, f32x4.splat(<f32>(size - 1)));
  const first = isAbove(known, far, near, farX, nearX);
  const second = isAbove(known + FOUR, far, near, farX, nearX);
  const third = isAbove(known + 2 * FOUR, far, near, farX, nearX);
  const fourth = isAbove(known + 3 * FOUR, far, near, farX, nearX);
  return v128.any_true(v128.or(v128.or(first, second), v128.or(third, fourth)));
}

@inline
function isAbove(known: usize, far: v128, near: v128, farX: v128, nearX: v128): v128 {
  const rise = v128.load(known, RISES);
  const atFar = f32x4.add(far, f32x4.mul(rise, farX));
  const atNear = f32x4.add(near, f32x4.mul(rise, nearX));
  return f32x4.gt(f32x4.pmax(atFar, atNear), v128.load(known, BOUNDS));
}

/** Looks at each step of a block of four from each of four places. @param x of the block's far end */
function look(line: usize, p: i32, x: i32, reach: i32, inverse: usize, known: usize): void {
  const block = line + <usize>(p + x) * FOUR;
  const nearest = inverse + (<usize>(-x - 3) << 2);
  if (3 - x > reach) {
    lookWithin(line, p, x, reach, inverse, known);
    return;
  }
  for (let k: usize = 0; k < 3; k++) {
    const height = v128.load(line + (<usize>p + k) * FOUR);
    const from = nearest + (k << 2);
    const a = f32x4.pmax(riseOf(block, height, from + 12), riseOf(block + FOUR, height, from + 8));
    const b = f32x4.pmax(riseOf(block + 2 * FOUR, height, from + 4), riseOf(block + 3 * FOUR, height, from));
    const best = f32x4.pmax(v128.load(known + k * FOUR, RISES), f32x4.pmax(a, b));
    keep(known, <i32>k, height, best);
  }
  const height = v128.load(line + <usize>(p + 3) * FOUR);
  let best = v128.load(known + 3 * FOUR, RISES);
  let highest = v128.load(known, HIGHEST);
  let distance = v128.load(known, DISTANCE);
  let away = f32x4.splat(<f32>-x);
  for (let i: usize = 0; i < 4; i++) {
    const other = v128.load(block + (3 - i) * FOUR);
    const rise = riseOf(block + (3 - i) * FOUR, height, nearest + 12 + (i << 2));
    const isMore = f32x4.gt(rise, best);
    best = f32x4.pmax(best, rise);
    highest = v128.bitselect(other, highest, isMore);
    distance = v128.bitselect(away, distance, isMore);
    away = f32x4.add(away, f32x4.splat(1));
  }
  keep(known, 3, height, best);
  v128.store(known, highest, HIGHEST);
  v128.store(known, distance, DISTANCE);
}

/** How much one place rises from another with each step between them. */
@inline
function riseOf(other: usize, height: v128, inverse: usize): v128 {
  return f32x4.mul(f32x4.sub(v128.load(other), height), v128.load32_splat(inverse));
}

/** Looks at those steps of a block of four that are within reach. */
function lookWithin(line: usize, p: i32, x: i32, reach: i32, inverse: usize, known: usize): void {
  const block = line + <usize>(p + x) * FOUR;
  for (let k = 0; k < 4; k++) {
    const height = v128.load(line + <usize>(p + k) * FOUR);
    let best = v128.load(known + <usize>k * FOUR, RISES);
    let highest = v128.load(known, HIGHEST);
    let distance = v128.load(known, DISTANCE);
    for (let i = 3, end = max(0, k - x - reach); i >= end; i--) {
      const away = k - x - i;
      const other = v128.load(block + <usize>i * FOUR);
      const rise = riseOf(block + <usize>i * FOUR, height, inverse + (<usize>away << 2));
      const isMore = f32x4.gt(rise, best);
      best = f32x4.pmax(best, rise);
      highest = v128.bitselect(other, highest, isMore);
      distance = v128.bitselect(f32x4.splat(<f32>away), distance, isMore);
    }
    keep(known, k, height, best);
    if (k === 3) {
      v128.store(known, highest, HIGHEST);
      v128.store(known, distance, DISTANCE);
    }
  }
}

/** Lines over four steps each: from the first to the last of them, raised by as much as others lie above. */
function coverSteps(steps: usize, blocks: i32, out: usize): void {
  for (let block = 0; block < blocks; block++) {
    const at = steps + <usize>block * 4 * FOUR;
    const first = v128.load(at);
    const last = v128.load(at, 3 * FOUR);
    const slope = f32x4.mul(f32x4.sub(last, first), f32x4.splat(1.0 / 3.0));
    let above = f32x4.splat(0);
    above = f32x4.pmax(above, f32x4.sub(v128.load(at, FOUR), f32x4.add(first, slope)));
    above = f32x4.pmax(above, f32x4.sub(v128.load(at, 2 * FOUR), f32x4.sub(last, slope)));
    v128.store(out + <usize>block * LINE, f32x4.add(first, above));
    v128.store(out + <usize>block * LINE, f32x4.add(last, above), FOUR);
  }
}

/** Lines over four blocks each, from those over the blocks. @param size steps of a block */
function coverBlocks(blocks: usize, count: i32, size: i32, out: usize): void {
  const length = 4 * size - 1;
  const ofBlock = f32x4.splat(<f32>size - <f32>1);
  const perStep = f32x4.splat(<f32>1 / <f32>length);
  for (let block = 0; block < count; block++) {
    const at = blocks + <usize>block * 4 * LINE;
    const first = v128.load(at);
    const last = v128.load(at, 3 * LINE + FOUR);
    const slope = f32x4.mul(f32x4.sub(last, first), perStep);
    let above = f32x4.splat(0);
    for (let k = 0; k < 4; k++) {
      const own = at + <usize>k * LINE;
      const steps = k * size;
      const far = f32x4.add(first, f32x4.mul(slope, f32x4.splat(<f32>steps)));
      const near = f32x4.add(far, f32x4.mul(slope, ofBlock));
      above = f32x4.pmax(above, f32x4.sub(v128.load(own), far));
      above = f32x4.pmax(above, f32x4.sub(v128.load(own, FOUR), near));
    }
    v128.store(out + <usize>block * LINE, f32x4.add(first, above));
    v128.store(out + <usize>block * LINE, f32x4.add(last, above), FOUR);
  }
}

/**
 * How far the normals of four texels lean within the cut, and how long they are if they are one upwards.
 * @param column first texel of the column of the first of the four
 */
@inline
function leansOf(
  column: usize,
  y: usize,
  height: usize,
  repeats: bool,
  cos: f32,
  sin: f32,
  doublings: usize,
  out: usize,
): void {
  const isFirst = y === 0;
  const isLast = y === height - 1;
  const above = column + (isFirst ? (repeats ? height - 1 : 0) : y - 1) * ROW - 4;
  const here = column + y * ROW - 4;
  const below = column + (isLast ? (repeats ? 0 : y) : y + 1) * ROW - 4;
  const side = f32x4.splat(3.0 / 32.0);
  const middle = f32x4.splat(10.0 / 32.0);
  const upperLeft = v128.load(above);
  const upperRight = v128.load(above, 8);
  const lowerLeft = v128.load(below);
  const lowerRight = v128.load(below, 8);
  const outer = f32x4.add(f32x4.sub(upperRight, upperLeft), f32x4.sub(lowerRight, lowerLeft));
  const inner = f32x4.sub(v128.load(here, 8), v128.load(here));
  // At a border that does not repeat, the step is but one texel long.
  const across = f32x4.mul(f32x4.add(f32x4.mul(outer, side), f32x4.mul(inner, middle)), v128.load(doublings));
  const outerDown = f32x4.add(f32x4.sub(lowerLeft, upperLeft), f32x4.sub(lowerRight, upperRight));
  const innerDown = f32x4.sub(v128.load(below, 4), v128.load(above, 4));
  let down = f32x4.add(f32x4.mul(outerDown, side), f32x4.mul(innerDown, middle));
  if (!repeats && (isFirst || isLast)) down = f32x4.add(down, down);
  const lean = f32x4.add(f32x4.mul(down, f32x4.splat(cos)), f32x4.mul(across, f32x4.splat(sin)));
  const square = f32x4.add(f32x4.mul(across, across), f32x4.mul(down, down));
  v128.store(out, f32x4.neg(lean));
  v128.store(out, f32x4.sqrt(f32x4.add(square, f32x4.splat(1))), FOUR);
}

/**
 * The sky between the horizons of four places, weighed by the cosine to the surface's own normal.
 * @param ahead, back how much the horizons rise with each step
 */
@inline
function skyBetween(ahead: v128, back: v128, lean: v128, length: v128, cos: f32): v128 {
  const perStep = f32x4.splat(cos);
  const one = f32x4.splat(1);
  const two = f32x4.splat(2);
  const inCut = f32x4.sqrt(f32x4.add(f32x4.mul(lean, lean), one));
  const cosLean = f32x4.div(one, inCut);
  const sinLean = f32x4.mul(lean, cosLean);
  const rise = f32x4.mul(ahead, perStep);
  const fall = f32x4.mul(back, perStep);
  const rises = f32x4.add(f32x4.mul(rise, rise), one);
  const falls = f32x4.add(f32x4.mul(fall, fall), one);
  const ofRise = f32x4.add(f32x4.mul(f32x4.sub(rises, two), cosLean), f32x4.mul(f32x4.mul(two, rise), sinLean));
  const ofFall = f32x4.sub(f32x4.mul(f32x4.sub(falls, two), cosLean), f32x4.mul(f32x4.mul(two, fall), sinLean));
  const turned = f32x4.add(f32x4.div(ofRise, rises), f32x4.div(ofFall, falls));
  const angle = f32x4.sub(atan(fall), atan(rise));
  const open = f32x4.add(
    f32x4.sub(f32x4.mul(two, cosLean), turned),
    f32x4.mul(f32x4.mul(two, angle), sinLean),
  );
  return f32x4.mul(f32x4.mul(f32x4.div(inCut, length), open), f32x4.splat(0.25));
}

/** Adds to four texels, or to the first of them. */
@inline
function add(at: usize, seen: v128, lanes: i32): void {
  if (lanes === 4) {
    v128.store(at, f32x4.add(v128.load(at), seen));
    return;
  }
  store<f32>(at, load<f32>(at) + f32x4.extract_lane(seen, 0));
  if (lanes > 1) store<f32>(at, load<f32>(at, 4) + f32x4.extract_lane(seen, 1), 4);
  if (lanes > 2) store<f32>(at, load<f32>(at, 8) + f32x4.extract_lane(seen, 2), 8);
}
