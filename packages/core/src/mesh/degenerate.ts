import { DisjointSets } from '../math/disjointSets.ts';
import { edgeLength } from './edges.ts';

/** A triangle lower than this share of its longest side has no area that single precision could hold. */
const LEAST_HEIGHT = 1e-6;

/**
 * Whether a triangle has no area in space: corners in one place, or all on one line. The poles of spheres, capped
 * cylinders and filled T-junctions have such triangles in everyday data.
 * @param positions x, y, z for each vertex
 * @param indices three vertex numbers for each triangle
 */
export function isDegenerate(positions: Float32Array, indices: Uint32Array, triangle: number): boolean {
  const a = indices[triangle * 3]! * 3;
  const b = indices[triangle * 3 + 1]! * 3;
  const c = indices[triangle * 3 + 2]! * 3;
  const [ux, uy, uz] = [
    positions[b]! - positions[a]!,
    positions[b + 1]! - positions[a + 1]!,
    positions[b + 2]! - positions[a + 2]!,
  ];
  const [vx, vy, vz] = [
    positions[c]! - positions[a]!,
    positions[c + 1]! - positions[a + 1]!,
    positions[c + 2]! - positions[a + 2]!,
  ];
  const [wx, wy, wz] = [vx - ux, vy - uy, vz - uz];
  const [nx, ny, nz] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
  const longest = Math.max(ux * ux + uy * uy + uz * uz, vx * vx + vy * vy + vz * vz, wx * wx + wy * wy + wz * wz);
  return Math.sqrt(nx * nx + ny * ny + nz * nz) <= LEAST_HEIGHT * longest;
}

/** The triangles without area, in their order. */
export function degenerateTriangles(positions: Float32Array, indices: Uint32Array): number[] {
  const found: number[] = [];
  for (let t = 0; t < indices.length / 3; t++) if (isDegenerate(positions, indices, t)) found.push(t);
  return found;
}

/**
 * The same positions, but for corners of triangles without area that are all but in one place: they are put into that
 * place exactly, so that what hangs together there is known to.
 * @param degenerate the triangles without area
 * @example the pole of a sphere, whose corners a rounded sine leaves 10⁻¹⁷ apart
 */
export function joinPoles(positions: Float32Array, indices: Uint32Array, degenerate: readonly number[]): Float32Array {
  const joined = positions.slice();
  const sets = DisjointSets.of(positions.length / 3);
  for (const t of degenerate) {
    const corners = [...indices.subarray(t * 3, t * 3 + 3)];
    const lengths = corners.map((v, c) => edgeLength(positions, v, corners[(c + 1) % 3]!));
    const near = LEAST_HEIGHT * Math.max(...lengths);
    corners.forEach((v, c) => {
      if (lengths[c]! <= near) sets.join(v, corners[(c + 1) % 3]!);
    });
  }
  // Each vertex has the place of the first of those it is joined with.
  for (const v of new Set(degenerate.flatMap((t) => [...indices.subarray(t * 3, t * 3 + 3)]))) {
    const to = sets.find(v);
    if (to !== v) joined.copyWithin(v * 3, to * 3, to * 3 + 3);
  }
  return joined;
}

/**
 * The same triangles, those without area drawn together into one vertex each: in a layout they then take no room, lie
 * over nothing and claim no texels, whatever their UVs are. All keep their numbers.
 * @returns the very same array where all triangles have an area
 */
export function collapseDegenerate(positions: Float32Array, indices: Uint32Array): Uint32Array {
  const found = degenerateTriangles(positions, indices);
  if (found.length === 0) return indices;
  const flags = new Uint8Array(indices.length / 3);
  for (const t of found) flags[t] = 1;
  // Into a corner that another triangle has as well, so that they belong to its island.
  const used = new Uint8Array(positions.length / 3);
  for (let i = 0; i < indices.length; i++) if (!flags[Math.floor(i / 3)]) used[indices[i]!] = 1;
  const collapsed = indices.slice();
  for (const t of found) {
    const corners = indices.subarray(t * 3, t * 3 + 3);
    collapsed.fill(corners.find((v) => used[v] === 1) ?? corners[0]!, t * 3, t * 3 + 3);
  }
  return collapsed;
}
