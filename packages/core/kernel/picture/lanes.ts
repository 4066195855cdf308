// Four numbers at a time: from double precision, and where fewer than four are wanted.

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
