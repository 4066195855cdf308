/**
 * e to the power of a number below 1, to about 1e-15: powers of 2 times the series of Taylor. The kernel has no tables, as
 * those of a library would be: the memory is the caller's from its beginning.
 */
export function exponential(x: f64): f64 {
  // Smaller ones are no normal numbers.
  if (x < -700) return 0;
  const power = floor<f64>(x * 1.4426950408889634 + 0.5);
  const rest = x - power * 0.6931471805599453;
  let sum: f64 = 1;
  for (let k: f64 = 13; k > 0; k--) sum = 1 + (sum * rest) / k;
  return sum * reinterpret<f64>((<i64>power + 1023) << 52);
}
