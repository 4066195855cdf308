import { pickVertices } from '../../mesh/pickVertices.ts';
import type { Mesh } from '../../mesh/mesh.ts';
import { layoutOf } from '../../uv/layout.ts';
import { mikkTangents } from './mikkTangents.ts';

/**
 * A mesh with a tangent for each vertex rather than each corner: vertices whose corners differ in it are split.
 * @returns `tangents`: unit x, y, z and the sign of the bitangent for each vertex
 * @throws input/no-uvs
 */
export function vertexTangents(mesh: Mesh, uvSet: number): { mesh: Mesh; tangents: Float32Array } {
  const { positions, normals, indices } = mesh;
  const ofCorner = mikkTangents({ positions, normals, uvs: layoutOf(mesh, uvSet).uvs, indices });
  const sources: number[] = [];
  const tangents: number[] = [];
  const known = new Map<string, number>();
  const split = indices.map((vertex, corner) => {
    const tangent = unitTangent(ofCorner.subarray(corner * 4, corner * 4 + 4), normals.subarray(vertex * 3));
    const key = `${vertex} ${tangent.join()}`;
    let number = known.get(key);
    if (number === undefined) {
      number = sources.length;
      known.set(key, number);
      sources.push(vertex);
      tangents.push(...tangent);
    }
    return number;
  });
  return { mesh: pickVertices(mesh, Uint32Array.from(sources), split), tangents: Float32Array.from(tangents) };
}

/** Where a layout has no direction, any along the surface will do. */
function unitTangent([x = 0, y = 0, z = 0, sign = 1]: Float32Array, normal: Float32Array): number[] {
  const length = Math.hypot(x, y, z);
  if (length > 1e-6) return [x / length, y / length, z / length, sign < 0 ? -1 : 1];
  const [nx = 0, ny = 0, nz = 1] = normal;
  const across = Math.abs(nx) < 0.9 ? [0, nz, -ny] : [-nz, 0, nx];
  const size = Math.hypot(...across) || 1;
  return [...across.map((value) => value / size), 1];
}
