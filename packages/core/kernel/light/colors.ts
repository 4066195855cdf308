// Colours as vectors of three floats; the fourth is 0.

export const BLACK: v128 = f32x4(0, 0, 0, 0);

/** The same in all three colours. */
@inline
export function grey(value: f64): v128 {
  return f32x4.replace_lane(f32x4.splat(<f32>value), 3, 0);
}

@inline
export function times(color: v128, by: f64): v128 {
  return f32x4.mul(color, f32x4.splat(<f32>by));
}

@inline
export function sumOf(color: v128): f64 {
  return <f64>f32x4.extract_lane(color, 0) + <f64>f32x4.extract_lane(color, 1) + <f64>f32x4.extract_lane(color, 2);
}

@inline
export function largestOf(color: v128): f64 {
  const most = max<f32>(f32x4.extract_lane(color, 0), f32x4.extract_lane(color, 1));
  return <f64>max<f32>(most, f32x4.extract_lane(color, 2));
}

@inline
export function isBlack(color: v128): bool {
  return !v128.any_true(color);
}

/** A vector whose fourth number is of no meaning, as a colour. */
@inline
export function colorAt(address: usize): v128 {
  return f32x4.replace_lane(v128.load(address), 3, 0);
}

/** Adds a colour to three doubles. */
export function addColor(to: usize, color: v128): void {
  v128.store(to, f64x2.add(v128.load(to), f64x2.promote_low_f32x4(color)));
  store<f64>(to, load<f64>(to, 16) + <f64>f32x4.extract_lane(color, 2), 16);
}
