import type { Mesh } from './mesh.ts';

/**
 * The same mesh with other vertices, each a copy of one of its own: for a layout that cuts where the old one did not.
 * @param sources the vertex that each new one is a copy of
 * @param indices of the new vertices; the triangles keep their order
 */
export function pickVertices(mesh: Mesh, sources: Uint32Array, indices: Uint32Array): Mesh {
  const pick = (values: Float32Array, width: number): Float32Array => {
    const picked = new Float32Array(sources.length * width);
    for (let v = 0; v < sources.length; v++) {
      for (let k = 0; k < width; k++) picked[v * width + k] = values[sources[v]! * width + k]!;
    }
    return picked;
  };
  return {
    ...mesh,
    positions: pick(mesh.positions, 3),
    normals: pick(mesh.normals, 3),
    uvSets: mesh.uvSets.map((set) => ({ ...set, coords: pick(set.coords, 2) })),
    colors: mesh.colors && pick(mesh.colors, 4),
    indices,
  };
}
