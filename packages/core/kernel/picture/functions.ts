// Functions of four numbers at a time, in single precision. Polynomials are those of the Cephes library (Moshier), from
// memory; tests hold them against the functions of the platform.

/**
 * The angle whose sine and cosine are as y to x, from −π to π, off by less than 5e-7.
 * @param y, x not both 0
 */
export function angleOf(y: v128, x: v128): v128 {
  const sign = i32x4.splat(0x80000000);
  const high = f32x4.abs(y);
  const wide = f32x4.abs(x);
  // Beyond tan 67.5° it is a right angle less that of the inverse, from tan 22.5° on half of one and what is beyond.
  const isLarge = f32x4.gt(high, f32x4.mul(wide, f32x4.splat(2.414213562373095)));
  const isMiddle = v128.andnot(f32x4.gt(high, f32x4.mul(wide, f32x4.splat(0.4142135623730951))), isLarge);
  const over = v128.bitselect(f32x4.neg(wide), v128.bitselect(f32x4.sub(high, wide), high, isMiddle), isLarge);
  const under = v128.bitselect(high, v128.bitselect(f32x4.add(high, wide), wide, isMiddle), isLarge);
  const from = v128.bitselect(
    f32x4.splat(1.5707963267948966),
    v128.and(f32x4.splat(0.7853981633974483), isMiddle),
    isLarge,
  );
  const t = f32x4.div(over, under);
  const z = f32x4.mul(t, t);
  let sum = f32x4.splat(8.05374449538e-2);
  sum = f32x4.sub(f32x4.mul(sum, z), f32x4.splat(1.38776856032e-1));
  sum = f32x4.add(f32x4.mul(sum, z), f32x4.splat(1.99777106478e-1));
  sum = f32x4.sub(f32x4.mul(sum, z), f32x4.splat(3.33329491539e-1));
  const angle = f32x4.add(from, f32x4.add(f32x4.mul(f32x4.mul(sum, z), t), t));
  // Where x is below 0, the angle to the other side.
  const turned = v128.bitselect(f32x4.sub(f32x4.splat(3.141592653589793), angle), angle, i32x4.shr_s(x, 31));
  return v128.or(turned, v128.and(y, sign));
}

/** Logarithm to the base of 2 of numbers above 0, off by less than 3e-7 or as much of itself. */
export function log2(x: v128): v128 {
  // A mantissa from √½ to √2, and its exponent.
  const bits = i32x4.sub(x, i32x4.splat(0x3f3504f3));
  const exponent = i32x4.shr_s(bits, 23);
  const mantissa = i32x4.sub(x, i32x4.shl(exponent, 23));
  const m = f32x4.sub(mantissa, f32x4.splat(1));
  const z = f32x4.mul(m, m);
  let sum = f32x4.splat(7.0376836292e-2);
  sum = f32x4.sub(f32x4.mul(sum, m), f32x4.splat(1.151461031e-1));
  sum = f32x4.add(f32x4.mul(sum, m), f32x4.splat(1.167699874e-1));
  sum = f32x4.sub(f32x4.mul(sum, m), f32x4.splat(1.2420140846e-1));
  sum = f32x4.add(f32x4.mul(sum, m), f32x4.splat(1.4249322787e-1));
  sum = f32x4.sub(f32x4.mul(sum, m), f32x4.splat(1.6668057665e-1));
  sum = f32x4.add(f32x4.mul(sum, m), f32x4.splat(2.0000714765e-1));
  sum = f32x4.sub(f32x4.mul(sum, m), f32x4.splat(2.4999993993e-1));
  sum = f32x4.add(f32x4.mul(sum, m), f32x4.splat(3.3333331174e-1));
  const curve = f32x4.sub(f32x4.mul(f32x4.mul(sum, m), z), f32x4.mul(z, f32x4.splat(0.5)));
  const natural = f32x4.add(m, curve);
  return f32x4.add(f32x4.mul(natural, f32x4.splat(1.4426950408889634)), f32x4.convert_i32x4_s(exponent));
}

/** 2 to the power of x, off by less than 3e-7 of itself; 0 below 2⁻¹²⁶, no more than 2¹²⁷. */
export function exp2(x: v128): v128 {
  const clamped = f32x4.pmin(f32x4.splat(127), f32x4.pmax(f32x4.splat(-127), x));
  const whole = f32x4.nearest(clamped);
  const t = f32x4.sub(clamped, whole);
  let sum = f32x4.splat(1.535336188319500e-4);
  sum = f32x4.add(f32x4.mul(sum, t), f32x4.splat(1.339887440266574e-3));
  sum = f32x4.add(f32x4.mul(sum, t), f32x4.splat(9.618437357674640e-3));
  sum = f32x4.add(f32x4.mul(sum, t), f32x4.splat(5.550332471162809e-2));
  sum = f32x4.add(f32x4.mul(sum, t), f32x4.splat(2.402264791363012e-1));
  sum = f32x4.add(f32x4.mul(sum, t), f32x4.splat(6.931472028550421e-1));
  const fraction = f32x4.add(f32x4.mul(sum, t), f32x4.splat(1));
  const power = i32x4.shl(i32x4.add(i32x4.trunc_sat_f32x4_s(whole), i32x4.splat(127)), 23);
  return f32x4.mul(fraction, power);
}

/** x to a power; 0 for x at or below 0. */
export function power(x: v128, exponent: v128): v128 {
  const isAbove = f32x4.gt(x, f32x4.splat(0));
  return v128.and(exp2(f32x4.mul(log2(x), exponent)), isAbove);
}

/** Light as sRGB has it on screen (IEC 61966-2-1); for values of 0 and above. */
export function toScreen(x: v128): v128 {
  const curved = f32x4.sub(
    f32x4.mul(f32x4.splat(1.055), power(x, f32x4.splat(1.0 / 2.4))),
    f32x4.splat(0.055),
  );
  return v128.bitselect(f32x4.mul(x, f32x4.splat(12.92)), curved, f32x4.le(x, f32x4.splat(0.0031308)));
}

/** What sRGB has on screen as light; for values of 0 and above. */
export function toLight(x: v128): v128 {
  const t = f32x4.mul(f32x4.add(x, f32x4.splat(0.055)), f32x4.splat(1.0 / 1.055));
  const curved = power(t, f32x4.splat(2.4));
  return v128.bitselect(f32x4.mul(x, f32x4.splat(1.0 / 12.92)), curved, f32x4.le(x, f32x4.splat(0.04045)));
}

/** Cube root: of the power, and one step of Newton's. */
export function cubeRoot(x: v128): v128 {
  const size = f32x4.abs(x);
  const rough = power(size, f32x4.splat(1.0 / 3.0));
  const square = f32x4.mul(rough, rough);
  const step = f32x4.div(f32x4.sub(f32x4.mul(square, rough), size), f32x4.mul(square, f32x4.splat(3)));
  const root = v128.and(f32x4.sub(rough, step), f32x4.gt(size, f32x4.splat(0)));
  return v128.or(root, v128.and(x, i32x4.splat(0x80000000)));
}
