import { ZographosError } from '../errors.ts';
import type { Mesh } from '../mesh/mesh.ts';

/** A mesh as it lies on one of its UV sets. */
export interface Layout {
  /** x, y, z for each vertex. */
  positions: Float32Array;
  /** u, v for each vertex. */
  uvs: Float32Array;
  /** Three vertex numbers for each triangle. */
  indices: Uint32Array;
}

/** @throws input/no-uvs when the mesh has no such UV set */
export function layoutOf(mesh: Mesh, uvSet: number): Layout {
  const set = mesh.uvSets[uvSet];
  if (set) return { positions: mesh.positions, uvs: set.coords, indices: mesh.indices };
  throw new ZographosError(
    'input/no-uvs',
    mesh.uvSets.length === 0
      ? `“${mesh.name}” has no UVs, so there is nowhere to put a map. Unwrap it, or bring it in with a UV set.`
      : `“${mesh.name}” has ${mesh.uvSets.length} UV set(s), so there is no number ${uvSet + 1}. Choose one of: ${mesh.uvSets.map((s) => s.name).join(', ')}.`,
  );
}

/** Twice the area of a triangle in the layout; below zero where it is mirrored. */
export function doubleUvArea({ uvs, indices }: Pick<Layout, 'uvs' | 'indices'>, triangle: number): number {
  const a = indices[triangle * 3]! * 2;
  const b = indices[triangle * 3 + 1]! * 2;
  const c = indices[triangle * 3 + 2]! * 2;
  return (uvs[b]! - uvs[a]!) * (uvs[c + 1]! - uvs[a + 1]!) - (uvs[c]! - uvs[a]!) * (uvs[b + 1]! - uvs[a + 1]!);
}
