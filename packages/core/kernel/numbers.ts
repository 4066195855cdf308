/**
 * Where the numbers begin that a work is described by, after what the team keeps: first as doubles, then once more as
 * whole numbers. Those need no conversion, which compilers move into inner loops.
 */
export const NUMBERS: usize = 256;
const WHOLES: usize = 64 * 8;

@inline
export function numberAt(numbers: usize, k: usize): f64 {
  return load<f64>(numbers + (k << 3));
}

@inline
export function floatAt(numbers: usize, k: usize): f32 {
  return <f32>load<f64>(numbers + (k << 3));
}

@inline
export function wholeAt(numbers: usize, k: usize): i32 {
  return load<i32>(numbers + WHOLES + (k << 2));
}

@inline
export function addressAt(numbers: usize, k: usize): usize {
  return load<u32>(numbers + WHOLES + (k << 2));
}
