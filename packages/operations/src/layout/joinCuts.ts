import { joinMeshes, type Mesh } from '@zographos/core/mesh';
import { compacted, islandCount, type CutMesh } from '@zographos/core/uv';

/** Some triangles of a mesh, over all its vertices. */
export function trianglesOf(mesh: Mesh, triangles: readonly number[]): Mesh {
  const indices = new Uint32Array(triangles.length * 3);
  triangles.forEach((t, i) => indices.set(mesh.indices.subarray(t * 3, t * 3 + 3), i * 3));
  return { ...mesh, indices, triangleSlots: Uint16Array.from(triangles, (t) => mesh.triangleSlots[t]!) };
}

/**
 * Parts of a mesh that were cut apart, as one cut mesh whose triangles stand in the order of the mesh.
 * @param parts with the triangles of the mesh that each has; together all of them. Islands keep their numbers.
 */
export function joinCuts(mesh: Mesh, parts: readonly { cut: CutMesh; triangles: readonly number[] }[]): CutMesh {
  const joined = joinMeshes(
    mesh.name,
    parts.map(({ cut }) => cut.mesh),
  );
  const indices = new Uint32Array(mesh.indices.length);
  const islands = new Uint32Array(mesh.indices.length / 3);
  const flat = new Float32Array((joined.positions.length / 3) * 2);
  let [triangle, value] = [0, 0];
  for (const { cut, triangles } of parts) {
    flat.set(cut.flat, value);
    value += cut.flat.length;
    triangles.forEach((t, i) => {
      const corners = joined.indices.subarray((triangle + i) * 3, (triangle + i + 1) * 3);
      indices.set(corners, t * 3);
      // Corners are where the mesh has them, to the last bit.
      corners.forEach((v, c) => {
        const of = mesh.indices[t * 3 + c]! * 3;
        joined.positions.set(mesh.positions.subarray(of, of + 3), v * 3);
      });
      islands[t] = cut.islands[i]!;
    });
    triangle += triangles.length;
  }
  const uvSets = joined.uvSets.map(({ coords }, i) => ({ ...mesh.uvSets[i]!, coords }));
  return { mesh: { ...joined, uvSets, indices, triangleSlots: mesh.triangleSlots }, flat, islands };
}

/**
 * A cut mesh of which some triangles were cut anew; islands have numbers that leave none out.
 * @param again the triangles of `anew`, in their order
 */
export function replaceCut(mesh: Mesh, cut: CutMesh, again: readonly number[], anew: CutMesh): CutMesh {
  const replaced = new Set(again);
  const kept = [...cut.islands.keys()].filter((t) => !replaced.has(t));
  const first = islandCount(cut.islands);
  const joined = joinCuts(mesh, [
    {
      cut: {
        mesh: trianglesOf(cut.mesh, kept),
        flat: cut.flat,
        islands: Uint32Array.from(kept, (t) => cut.islands[t]!),
      },
      triangles: kept,
    },
    { cut: { ...anew, islands: anew.islands.map((island) => first + island) }, triangles: again },
  ]);
  return { ...joined, islands: compacted(joined.islands) };
}
