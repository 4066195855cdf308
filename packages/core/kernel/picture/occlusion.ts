// What each place of a height field sees of the sky in one upright cut: both horizons, and the sky between them in closed
// form (Jimenez and others 2016, section 4). Four neighbouring lines of a cut are walked along at a time.
import { addressAt, floatAt, wholeAt } from '../numbers';
import { angleOf } from './functions';
import { FOUR, horizons } from './horizons';
import { addSome } from './lanes';
import { columnsAt, ROW } from './slabs';
import { slopesAcross, slopesDown } from './slopes';

/**
 * Adds the sky of one cut to a picture. Lines of the cut take one step down at a time, and a table tells how far across.
 * Numbers: heights (in texels), what the sky is added to, both in slabs; width, height, whether the picture
 * repeats, steps that a horizon may be away, cosine and sine (down and across), row of each place of a line drawn out by
 * as many at both ends, and to a multiple of four, how far across each of them lies (from 0 to below the width if the
 * picture repeats), the first line, how many, how many fours of lines a task has, 1 divided by each number of steps, bytes
 * of a slab, factor of slopes across at each column.
 * @param room six times 16 bytes for each place of a line drawn out and 64 more
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
  const floors = leans + list;
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
      const lean = leansOf(columnsAt(field, slab, x), y, <usize>height, repeats, cos, sin, doublings + (<usize>x << 2));
      v128.store(leans + <usize>i * FOUR, lean);
      v128.store(floors + <usize>i * FOUR, f32x4.mul(lean, along));
    }
    horizons(line, before, count, reach, floors, behind, blocks, inverse);
    for (let i = 0; i < count; i++) {
      const own = v128.load(leans + <usize>(count - 1 - i) * FOUR);
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
      const seen = skyBetween(rise, fall, v128.load(leans + <usize>i * FOUR), cos);
      addSome(columnsAt(sky, slab, x) + <usize>load<u32>(rows + at) * ROW, seen, lanes);
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

/**
 * How far the normals of four texels lean within the cut, if they are one upwards.
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
): v128 {
  const isFirst = y === 0;
  const isLast = y === height - 1;
  const above = column + (isFirst ? (repeats ? height - 1 : 0) : y - 1) * ROW - 4;
  const here = column + y * ROW - 4;
  const below = column + (isLast ? (repeats ? 0 : y) : y + 1) * ROW - 4;
  const side = f32x4.splat(3.0 / 32.0);
  const middle = f32x4.splat(10.0 / 32.0);
  // At a border that does not repeat, the step is but one texel long.
  const across = f32x4.mul(slopesAcross(above, here, below, side, middle), v128.load(doublings));
  let down = slopesDown(above, below, side, middle);
  if (!repeats && (isFirst || isLast)) down = f32x4.add(down, down);
  return f32x4.neg(f32x4.add(f32x4.mul(down, f32x4.splat(cos)), f32x4.mul(across, f32x4.splat(sin))));
}

/**
 * The sky between the horizons of four places, weighed by the cosine to the surface's own normal; twice as much, and times
 * the length of a normal that is one upwards. With rises h, −h′ forth and back and a normal that leans by l it is
 * (1 − h l) / (1 + h²) + (1 + h′ l) / (1 + h′²) + l (atan h′ − atan h): the paper's formula with sines and cosines of twice
 * the angles written by their tangents.
 * @param ahead, back how much the horizons rise with each step
 */
@inline
function skyBetween(ahead: v128, back: v128, lean: v128, cos: f32): v128 {
  const perStep = f32x4.splat(cos);
  const one = f32x4.splat(1);
  const rise = f32x4.mul(ahead, perStep);
  const fall = f32x4.mul(back, perStep);
  const rises = f32x4.add(f32x4.mul(rise, rise), one);
  const falls = f32x4.add(f32x4.mul(fall, fall), one);
  const forth = f32x4.sub(one, f32x4.mul(rise, lean));
  const behind = f32x4.add(one, f32x4.mul(fall, lean));
  const open = f32x4.div(f32x4.add(f32x4.mul(forth, falls), f32x4.mul(behind, rises)), f32x4.mul(rises, falls));
  // Of the difference of both angles the tangent is known.
  const angle = angleOf(f32x4.sub(fall, rise), f32x4.add(one, f32x4.mul(fall, rise)));
  return f32x4.add(open, f32x4.mul(angle, lean));
}

/**
 * Makes one row of what all cuts see of the sky, added up, openness from 0 to 1.
 * Numbers: heights and the sum, both row by row, width, height, whether the picture repeats, what heights are multiplied by
 * to be in texels, what the sum is multiplied by where the surface is level.
 */
export function opennessOfRow(numbers: usize, task: i32): void {
  const heights = addressAt(numbers, 0);
  const width = wholeAt(numbers, 2);
  const height = wholeAt(numbers, 3);
  const repeats = wholeAt(numbers, 4) !== 0;
  const bytes = <usize>width << 2;
  const isFirst = task === 0;
  const isLast = task === height - 1;
  const above = heights + (isFirst ? (repeats ? <usize>height - 1 : 0) : <usize>task - 1) * bytes;
  const here = heights + <usize>task * bytes;
  const below = heights + <usize>(isLast ? (repeats ? 0 : task) : task + 1) * bytes;
  const factor = floatAt(numbers, 5);
  const share = floatAt(numbers, 6);
  const downFactor = !repeats && (isFirst || isLast) ? factor * 2 : factor;
  const out = addressAt(numbers, 1) + <usize>task * bytes;
  const side = f32x4.splat(3.0 / 32.0);
  const middle = f32x4.splat(10.0 / 32.0);
  let x: usize = 4;
  for (; x + 20 <= bytes; x += 16) {
    const left = x - 4;
    const across = f32x4.mul(slopesAcross(above + left, here + left, below + left, side, middle), f32x4.splat(factor));
    const down = f32x4.mul(slopesDown(above + left, below + left, side, middle), f32x4.splat(downFactor));
    storeOpen(out + x, across, down, share);
  }
  for (let k: usize = 0; k < bytes; k = k === 0 && x < bytes ? x : k + 4) {
    const before = k > 0 ? k - 4 : repeats ? bytes - 4 : 0;
    const after = k < bytes - 4 ? k + 4 : repeats ? 0 : k;
    const isSide = !repeats && (k === 0 || k === bytes - 4);
    const ends = load<f32>(above + after) - load<f32>(above + before) + (load<f32>(below + after) - load<f32>(below + before));
    const between = load<f32>(here + after) - load<f32>(here + before);
    const across = (ends * <f32>(3.0 / 32.0) + between * <f32>(10.0 / 32.0)) * (isSide ? factor * 2 : factor);
    const sides = load<f32>(below + before) - load<f32>(above + before) + (load<f32>(below + after) - load<f32>(above + after));
    const own = load<f32>(below + k) - load<f32>(above + k);
    const down = (sides * <f32>(3.0 / 32.0) + own * <f32>(10.0 / 32.0)) * downFactor;
    const open = (load<f32>(out + k) * share) / sqrt<f32>(across * across + down * down + 1);
    store<f32>(out + k, min<f32>(1, max<f32>(0, open)));
  }
}

@inline
function storeOpen(out: usize, across: v128, down: v128, share: f32): void {
  const one = f32x4.splat(1);
  const square = f32x4.add(f32x4.add(f32x4.mul(across, across), f32x4.mul(down, down)), one);
  const open = f32x4.div(f32x4.mul(v128.load(out), f32x4.splat(share)), f32x4.sqrt(square));
  v128.store(out, f32x4.pmin(one, f32x4.pmax(f32x4.splat(0), open)));
}
