import type { Direction } from '../stack.ts';

/** The same direction with length 1; up if it has none. */
export function unit([x, y, z]: Direction): [number, number, number] {
  const length = Math.hypot(x, y, z);
  return length > 0 ? [x / length, y / length, z / length] : [0, 1, 0];
}

export const cross = (a: Direction, b: Direction): [number, number, number] => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];

/**
 * Two axes of a picture that is seen against a direction: to its right and up.
 * @param towards unit vector from the surface to the eye
 * @param up roughly; another is taken where it is parallel
 */
export function pictureAxes(
  towards: Direction,
  up: Direction = [0, 1, 0],
): [right: [number, number, number], up: [number, number, number]] {
  let right = cross(up, towards);
  if (Math.hypot(...right) < 1e-6) right = cross([0, 0, -1], towards);
  if (Math.hypot(...right) < 1e-6) right = [1, 0, 0];
  right = unit(right);
  return [right, cross(towards, right)];
}
