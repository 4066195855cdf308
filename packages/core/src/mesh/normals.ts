import { weldPositions } from './weld.ts';

/**
 * Angle-weighted vertex normals (Thürmer & Wüthrich 1998): each triangle adds its unit normal, weighted by
 * its angle at the vertex, so the result does not depend on how a surface is triangulated.
 * @param groups for each vertex the vertex that gathers for it; pass `weldPositions` to smooth over hard
 * edges and UV seams, or leave out to keep vertices apart
 * @returns unit x, y, z for each vertex; (0, 0, 1) where nothing defines a normal
 */
export function angleWeightedNormals(
  positions: Float32Array,
  indices: Uint32Array,
  groups?: Uint32Array,
): Float32Array {
  const sums = new Float64Array(positions.length);
  const corner = [0, 0, 0];
  for (let t = 0; t < indices.length; t += 3) {
    for (let c = 0; c < 3; c++) corner[c] = indices[t + c]! * 3;
    const [a, b, c] = corner as [number, number, number];
    const abx = positions[b]! - positions[a]!;
    const aby = positions[b + 1]! - positions[a + 1]!;
    const abz = positions[b + 2]! - positions[a + 2]!;
    const acx = positions[c]! - positions[a]!;
    const acy = positions[c + 1]! - positions[a + 1]!;
    const acz = positions[c + 2]! - positions[a + 2]!;
    let nx = aby * acz - abz * acy;
    let ny = abz * acx - abx * acz;
    let nz = abx * acy - aby * acx;
    const length = Math.sqrt(nx * nx + ny * ny + nz * nz);
    if (!(length > 0)) continue;
    nx /= length;
    ny /= length;
    nz /= length;
    for (let k = 0; k < 3; k++) {
      const here = corner[k]!;
      const angle = angleAt(positions, here, corner[(k + 1) % 3]!, corner[(k + 2) % 3]!);
      const vertex = here / 3;
      const target = (groups ? groups[vertex]! : vertex) * 3;
      sums[target]! += nx * angle;
      sums[target + 1]! += ny * angle;
      sums[target + 2]! += nz * angle;
    }
  }
  const normals = new Float32Array(positions.length);
  for (let v = 0; v < positions.length / 3; v++) {
    const from = (groups ? groups[v]! : v) * 3;
    const length = Math.hypot(sums[from]!, sums[from + 1]!, sums[from + 2]!);
    if (length > 1e-12) {
      for (let k = 0; k < 3; k++) normals[v * 3 + k] = sums[from + k]! / length;
    } else normals[v * 3 + 2] = 1;
  }
  return normals;
}

/** Angle-weighted normals that run smoothly over hard edges and UV seams: the directions rays leave along. */
export function smoothNormals(positions: Float32Array, indices: Uint32Array): Float32Array {
  return angleWeightedNormals(positions, indices, weldPositions(positions));
}

function angleAt(positions: Float32Array, at: number, next: number, previous: number): number {
  const ux = positions[next]! - positions[at]!;
  const uy = positions[next + 1]! - positions[at + 1]!;
  const uz = positions[next + 2]! - positions[at + 2]!;
  const vx = positions[previous]! - positions[at]!;
  const vy = positions[previous + 1]! - positions[at + 1]!;
  const vz = positions[previous + 2]! - positions[at + 2]!;
  // Plain square roots: several times as fast as Math.hypot, and nothing here comes near its range.
  const cx = uy * vz - uz * vy;
  const cy = uz * vx - ux * vz;
  const cz = ux * vy - uy * vx;
  return Math.atan2(Math.sqrt(cx * cx + cy * cy + cz * cz), ux * vx + uy * vy + uz * vz);
}
