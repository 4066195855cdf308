// The horizons of the places of four lines of heights, looking back along them. Every step within reach counts, but blocks
// of them are passed over: each has a straight line that it nowhere rises above, and where that would not rise above the
// horizon that is known already, nothing of the block does.

/** Bytes that four lines take for each step. */
export const FOUR: usize = 16;
const NONE: f32 = -1e30;
/** Bytes of a block's line, at its far and at its near end. */
const LINE: usize = 2 * FOUR;

/**
 * How much more with each step a block must be able to rise, to be looked at: a horizon may be too low by as much, or by
 * 0.03°. On smooth ground, where whole blocks nearly touch the line of sight, half of the time goes into what is less.
 */
const LEAST: f32 = 0.0005;

/** What is known of the horizons of four places behind each other: how much each rises with each step, */
const RISES: usize = 0;
/** and with what counts as more, */
const LIMITS: usize = 4 * FOUR;
/** what a height must be above, if as much is added for each step it lies after the first place, to rise more than that, */
const BOUNDS: usize = 8 * FOUR;
/** and of the last of them what height it is, and how many steps away. */
const HIGHEST: usize = 12 * FOUR;
const DISTANCE: usize = 13 * FOUR;
const KNOWN: usize = 14 * FOUR;

/**
 * How much the horizon behind each place of four lines rises with each step, looking no farther than `reach` steps. Four
 * places of each line are looked back from at a time.
 * @param line heights, the first `before` of them, a multiple of four, only looked at
 * @param floors for each of `count` places after those what its horizon is not below
 * @param out told the rise for each of them, and some behind
 * @param room for the lines over each block of 4, 16 and 64 steps
 * @param inverse 1 divided by each number of steps
 */
export function horizons(
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
    // In the nearest block something almost always rises.
    look(line, p, -4, reach, inverse, room);
    let block = nearest - 1;
    while (block >= last) {
      const x = (block << 2) - p;
      // Of those that are no longer than they are away.
      if ((block & 3) === 3) {
        if ((block & 15) === 15 && block < nearest - 3 && !mayRise(large + <usize>(block >> 4) * LINE, x - 60, 64, room)) {
          block -= 16;
          continue;
        }
        if (!mayRise(sixteens + <usize>(block >> 2) * LINE, x - 12, 16, room)) {
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
 * A first guess at the horizons of four places: that of the place before them most often is near theirs, or has just come
 * out of reach; then what has taken its place at the farthest is as good. None of the four waits for another.
 */
@inline
function guess(here: usize, reach: i32, floors: usize, inverse: usize, known: usize): void {
  const farthest = f32x4.splat(<f32>reach);
  const farthestInverse = v128.load32_splat(inverse + (<usize>reach << 2));
  let highest = v128.load(known, HIGHEST);
  let distance = v128.load(known, DISTANCE);
  for (let k: usize = 0; k < 3; k++) {
    const own = here + k * FOUR;
    const height = v128.load(own);
    const away = f32x4.add(distance, f32x4.splat(<f32>k + 1));
    let best = v128.load(floors + k * FOUR);
    const still = f32x4.div(f32x4.sub(highest, height), away);
    best = v128.bitselect(f32x4.pmax(best, still), best, f32x4.le(away, farthest));
    best = f32x4.pmax(best, f32x4.mul(f32x4.sub(v128.load(own - <usize>reach * FOUR), height), farthestInverse));
    // Those before it of the four.
    if (k > 0) best = f32x4.pmax(best, f32x4.sub(v128.load(own - FOUR), height));
    if (k > 1 && reach > 1) best = f32x4.pmax(best, f32x4.mul(f32x4.sub(v128.load(here), height), f32x4.splat(0.5)));
    keep(known, k, height, best);
  }
  const own = here + 3 * FOUR;
  const height = v128.load(own);
  let best = v128.load(floors, 3 * FOUR);
  distance = f32x4.add(distance, f32x4.splat(4));
  const still = f32x4.div(f32x4.sub(highest, height), distance);
  best = v128.bitselect(f32x4.pmax(best, still), best, f32x4.le(distance, farthest));
  const other = v128.load(own - <usize>reach * FOUR);
  const rise = f32x4.mul(f32x4.sub(other, height), farthestInverse);
  const isMore = f32x4.gt(rise, best);
  best = f32x4.pmax(best, rise);
  highest = v128.bitselect(other, highest, isMore);
  distance = v128.bitselect(farthest, distance, isMore);
  for (let away = 1, end = min(3, reach); away <= end; away++) {
    const other = v128.load(own - <usize>away * FOUR);
    const rise = f32x4.mul(f32x4.sub(other, height), v128.load32_splat(inverse + (<usize>away << 2)));
    const isMore = f32x4.gt(rise, best);
    best = f32x4.pmax(best, rise);
    highest = v128.bitselect(other, highest, isMore);
    distance = v128.bitselect(f32x4.splat(<f32>away), distance, isMore);
  }
  keep(known, 3, height, best);
  v128.store(known, highest, HIGHEST);
  v128.store(known, distance, DISTANCE);
}

@inline
function keep(known: usize, k: usize, height: v128, best: v128): void {
  const at = known + k * FOUR;
  const limit = f32x4.add(best, f32x4.splat(LEAST));
  v128.store(at, best, RISES);
  v128.store(at, limit, LIMITS);
  v128.store(at, f32x4.add(height, f32x4.mul(limit, f32x4.splat(<f32>k))), BOUNDS);
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
  const rise = v128.load(known, LIMITS);
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
