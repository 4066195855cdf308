// Four numbers at a time: from double precision, where fewer than four are wanted, and rows as columns.

/** Two doubles of each of two vectors, in single precision. */
@inline
export function singles(low: v128, high: v128): v128 {
  return v128.shuffle<i64>(f32x4.demote_f64x2_zero(low), f32x4.demote_f64x2_zero(high), 0, 2);
}

/** The first floats of a vector; all four, if as many or more are wanted. */
@inline
export function storeSome(to: usize, vector: v128, count: i32): void {
  if (count >= 4) {
    v128.store(to, vector);
    return;
  }
  v128.store_lane<f32>(to, vector, 0);
  if (count > 1) v128.store_lane<f32>(to, vector, 1, 4);
  if (count > 2) v128.store_lane<f32>(to, vector, 2, 8);
}

/** Adds the first floats of a vector to what is there. What lies behind them is read, and not written. */
@inline
export function addSome(to: usize, vector: v128, count: i32): void {
  storeSome(to, f32x4.add(v128.load(to), vector), count);
}

/** Four vectors, each lane of which goes to a place of its own. */
@inline
export function turn(a: v128, b: v128, c: v128, d: v128, first: usize, second: usize, third: usize, fourth: usize): void {
  const low = v128.shuffle<i32>(a, b, 0, 4, 1, 5);
  const high = v128.shuffle<i32>(a, b, 2, 6, 3, 7);
  const low2 = v128.shuffle<i32>(c, d, 0, 4, 1, 5);
  const high2 = v128.shuffle<i32>(c, d, 2, 6, 3, 7);
  v128.store(first, v128.shuffle<i64>(low, low2, 0, 2));
  v128.store(second, v128.shuffle<i64>(low, low2, 1, 3));
  v128.store(third, v128.shuffle<i64>(high, high2, 0, 2));
  v128.store(fourth, v128.shuffle<i64>(high, high2, 1, 3));
}
