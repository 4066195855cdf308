// The steps of the guided filter between its blurs (He, Sun and Tang 2013), on rows of floats in place.
import { addressAt, floatAt, wholeAt } from '../numbers';

/**
 * Squares of one row, and the row itself beside them.
 * Numbers: picture, told its squares, told itself again, bytes from row to row, floats of a row.
 */
export function squaresOfRow(numbers: usize, task: i32): void {
  const shift = <usize>task * addressAt(numbers, 3);
  const from = addressAt(numbers, 0) + shift;
  const squares = addressAt(numbers, 1) + shift;
  const again = addressAt(numbers, 2) + shift;
  const bytes = <usize>wholeAt(numbers, 4) << 2;
  for (let x: usize = 0; x < bytes; x += 16) {
    const value = v128.load(from + x);
    v128.store(squares + x, f32x4.mul(value, value));
    v128.store(again + x, value);
  }
}

/**
 * From the means of squares and of values of one row, how much of each texel stays, and what is added to it.
 * Numbers: means of squares, means, bytes from row to row, floats of a row, square of the change that counts as an edge.
 */
export function gainsOfRow(numbers: usize, task: i32): void {
  const shift = <usize>task * addressAt(numbers, 2);
  const squares = addressAt(numbers, 0) + shift;
  const means = addressAt(numbers, 1) + shift;
  const bytes = <usize>wholeAt(numbers, 3) << 2;
  const edge = f32x4.splat(floatAt(numbers, 4));
  const least = f32x4.splat(1e-20);
  for (let x: usize = 0; x < bytes; x += 16) {
    const mean = v128.load(means + x);
    const variance = f32x4.pmax(f32x4.splat(0), f32x4.sub(v128.load(squares + x), f32x4.mul(mean, mean)));
    const gain = f32x4.div(variance, f32x4.pmax(least, f32x4.add(variance, edge)));
    v128.store(squares + x, gain);
    v128.store(means + x, f32x4.sub(mean, f32x4.mul(mean, gain)));
  }
}

/**
 * One row by its gains and what is added.
 * Numbers: picture, gains, what is added, bytes from row to row, floats of a row; the picture is told the result.
 */
export function guidedRow(numbers: usize, task: i32): void {
  const shift = <usize>task * addressAt(numbers, 3);
  const picture = addressAt(numbers, 0) + shift;
  const gains = addressAt(numbers, 1) + shift;
  const added = addressAt(numbers, 2) + shift;
  const bytes = <usize>wholeAt(numbers, 4) << 2;
  for (let x: usize = 0; x < bytes; x += 16) {
    const value = f32x4.mul(v128.load(gains + x), v128.load(picture + x));
    v128.store(picture + x, f32x4.add(value, v128.load(added + x)));
  }
}
