import { ZographosError } from '../errors.ts';
import { collapseDegenerate } from '../mesh/degenerate.ts';
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
      ? `“${mesh.name}” has no UVs, so there is nowhere to put a map. Unwrap it, or import it with a UV set.`
      : `“${mesh.name}” has ${mesh.uvSets.length} UV ${mesh.uvSets.length === 1 ? 'set' : 'sets'}, so there is no number ${uvSet + 1}. Choose one of: ${mesh.uvSets.map((s) => s.name).join(', ')}.`,
  );
}

/**
 * A layout as it covers texels: triangles without area on the surface cover none, whatever their UVs are. All keep their
 * numbers.
 */
export const coveringLayout = (layout: Layout): Layout => ({
  ...layout,
  indices: collapseDegenerate(layout.positions, layout.indices),
});

/** Twice the area of a triangle in the layout; below zero where it is mirrored. */
export function doubleUvArea({ uvs, indices }: Pick<Layout, 'uvs' | 'indices'>, triangle: number): number {
  const a = indices[triangle * 3]! * 2;
  const b = indices[triangle * 3 + 1]! * 2;
  const c = indices[triangle * 3 + 2]! * 2;
  return (uvs[b]! - uvs[a]!) * (uvs[c + 1]! - uvs[a + 1]!) - (uvs[c]! - uvs[a]!) * (uvs[b + 1]! - uvs[a + 1]!);
}

/** The middle of a triangle in the layout. */
export function uvMiddle({ uvs, indices }: Pick<Layout, 'uvs' | 'indices'>, triangle: number): [u: number, v: number] {
  const a = indices[triangle * 3]! * 2;
  const b = indices[triangle * 3 + 1]! * 2;
  const c = indices[triangle * 3 + 2]! * 2;
  return [(uvs[a]! + uvs[b]! + uvs[c]!) / 3, (uvs[a + 1]! + uvs[b + 1]! + uvs[c + 1]!) / 3];
}

/** Exporters round a UV on the border by an ulp or two; that is not outside. */
const SLACK = 1e-5;

/** Whether a triangle lies within the tile that begins at u0, v0. */
export function isWithinTile(
  { uvs, indices }: Pick<Layout, 'uvs' | 'indices'>,
  triangle: number,
  u0 = 0,
  v0 = 0,
): boolean {
  for (let c = 0; c < 3; c++) {
    const at = indices[triangle * 3 + c]! * 2;
    const [u, v] = [uvs[at]! - u0, uvs[at + 1]! - v0];
    if (u < -SLACK || u > 1 + SLACK || v < -SLACK || v > 1 + SLACK) return false;
  }
  return true;
}

/** Triangles that lie the other way round than most of a layout. */
export function mirroredTriangles(layout: Pick<Layout, 'uvs' | 'indices'>): number[] {
  const mirrored: number[] = [];
  const upright: number[] = [];
  for (let t = 0; t < layout.indices.length / 3; t++) {
    const area = doubleUvArea(layout, t);
    if (area < 0) mirrored.push(t);
    else if (area > 0) upright.push(t);
  }
  return mirrored.length <= upright.length ? mirrored : upright;
}
