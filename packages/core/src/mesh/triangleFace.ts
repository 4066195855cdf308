import type { Mesh } from './mesh.ts';

/**
 * The face of a triangle: its edges from the first corner to the second and the third, and their cross product, which
 * points outwards and is twice as long as the triangle is large.
 * @param out receives three vectors
 */
export function triangleFace(
  { positions, indices }: Pick<Mesh, 'positions' | 'indices'>,
  triangle: number,
  out: Float64Array,
): void {
  const a = indices[triangle * 3]! * 3;
  const b = indices[triangle * 3 + 1]! * 3;
  const c = indices[triangle * 3 + 2]! * 3;
  const ux = positions[b]! - positions[a]!;
  const uy = positions[b + 1]! - positions[a + 1]!;
  const uz = positions[b + 2]! - positions[a + 2]!;
  const vx = positions[c]! - positions[a]!;
  const vy = positions[c + 1]! - positions[a + 1]!;
  const vz = positions[c + 2]! - positions[a + 2]!;
  out[0] = ux;
  out[1] = uy;
  out[2] = uz;
  out[3] = vx;
  out[4] = vy;
  out[5] = vz;
  out[6] = uy * vz - uz * vy;
  out[7] = uz * vx - ux * vz;
  out[8] = ux * vy - uy * vx;
}

const face = new Float64Array(9);

/** Whether a triangle's outer side points the way of a direction: a ray going there leaves through it. */
export function facesAlong(
  mesh: Pick<Mesh, 'positions' | 'indices'>,
  triangle: number,
  dx: number,
  dy: number,
  dz: number,
): boolean {
  triangleFace(mesh, triangle, face);
  return face[6]! * dx + face[7]! * dy + face[8]! * dz > 0;
}
