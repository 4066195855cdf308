/** Area of a triangle whose corners have two coordinates, or three, in their units squared. */
export function triangleArea(values: Float32Array, width: 2 | 3, indices: Uint32Array, triangle: number): number {
  const a = indices[triangle * 3]! * width;
  const b = indices[triangle * 3 + 1]! * width;
  const c = indices[triangle * 3 + 2]! * width;
  const ux = values[b]! - values[a]!;
  const uy = values[b + 1]! - values[a + 1]!;
  const vx = values[c]! - values[a]!;
  const vy = values[c + 1]! - values[a + 1]!;
  const uz = width === 3 ? values[b + 2]! - values[a + 2]! : 0;
  const vz = width === 3 ? values[c + 2]! - values[a + 2]! : 0;
  const x = uy * vz - uz * vy;
  const y = uz * vx - ux * vz;
  const z = ux * vy - uy * vx;
  return Math.sqrt(x * x + y * y + z * z) / 2;
}
