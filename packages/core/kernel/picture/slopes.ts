// Slopes of a height field, a texel, by an operator of three by three.
import { addressAt, floatAt, wholeAt } from '../numbers';

/**
 * Adds the slopes of one row of a picture that is drawn out by a texel at all sides.
 * Numbers: the picture's corner outside, bytes from row to row, width within, what slopes across are added to or 0, what
 * slopes down are added to or 0, weight of the neighbours, of the middle, factor of slopes down in the first and in the
 * last row, rows, factor of slopes across in the first and the last column.
 */
export function slopesOfRow(numbers: usize, task: i32): void {
  const row = addressAt(numbers, 1);
  const width = wholeAt(numbers, 2);
  const above = addressAt(numbers, 0) + <usize>task * row;
  const here = above + row;
  const below = here + row;
  const side = f32x4.splat(floatAt(numbers, 5));
  const middle = f32x4.splat(floatAt(numbers, 6));
  const bytes = <usize>width << 2;
  if (addressAt(numbers, 3) !== 0) {
    const out = addressAt(numbers, 3) + <usize>task * bytes;
    for (let x: usize = 0; x < bytes; x += 16) {
      const outer = f32x4.add(
        f32x4.sub(v128.load(above + x, 8), v128.load(above + x)),
        f32x4.sub(v128.load(below + x, 8), v128.load(below + x)),
      );
      const inner = f32x4.sub(v128.load(here + x, 8), v128.load(here + x));
      addSome(out, x, bytes, f32x4.add(f32x4.mul(outer, side), f32x4.mul(inner, middle)));
    }
    const factor = floatAt(numbers, 10);
    store<f32>(out, load<f32>(out) * factor);
    store<f32>(out + bytes - 4, load<f32>(out + bytes - 4) * factor);
  }
  if (addressAt(numbers, 4) !== 0) {
    const out = addressAt(numbers, 4) + <usize>task * bytes;
    let factor: f32 = 1;
    if (task === 0) factor = floatAt(numbers, 7);
    if (task === wholeAt(numbers, 9) - 1) factor *= floatAt(numbers, 8);
    const ends = f32x4.splat(factor);
    for (let x: usize = 0; x < bytes; x += 16) {
      const outer = f32x4.add(
        f32x4.sub(v128.load(below + x), v128.load(above + x)),
        f32x4.sub(v128.load(below + x, 8), v128.load(above + x, 8)),
      );
      const inner = f32x4.sub(v128.load(below + x, 4), v128.load(above + x, 4));
      const slope = f32x4.add(f32x4.mul(outer, side), f32x4.mul(inner, middle));
      addSome(out, x, bytes, f32x4.mul(slope, ends));
    }
  }
}

/** Adds four floats of a row, or as many as it has left. */
@inline
function addSome(row: usize, x: usize, bytes: usize, slope: v128): void {
  if (x + 16 <= bytes) {
    v128.store(row + x, f32x4.add(v128.load(row + x), slope));
    return;
  }
  const left = <i32>((bytes - x) >> 2);
  add(row + x, f32x4.extract_lane(slope, 0));
  if (left > 1) add(row + x + 4, f32x4.extract_lane(slope, 1));
  if (left > 2) add(row + x + 8, f32x4.extract_lane(slope, 2));
}

@inline
function add(at: usize, value: f32): void {
  store<f32>(at, load<f32>(at) + value);
}
