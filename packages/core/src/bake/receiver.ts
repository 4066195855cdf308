import { ZographosError } from '../errors.ts';
import { smoothNormals } from '../mesh/normals.ts';
import type { Mesh } from '../mesh/mesh.ts';
import { sharedFloat32, sharedUint32 } from '../shared.ts';
import { cagePositions } from './cage.ts';
import { mikkTangents } from './tangents.ts';

/** A mesh made ready to carry maps: everything a block of texels needs, in memory that threads share. */
export interface Receiver {
  positions: Float32Array;
  normals: Float32Array;
  /** u, v for each vertex in the chosen UV set. */
  uvs: Float32Array;
  indices: Uint32Array;
  /** Unit directions along which rays leave each vertex. */
  directions: Float32Array;
  /** Tangent and bitangent sign for each corner. */
  tangents: Float32Array;
  /** Where each vertex lies on the cage that rays start from, if there is one. */
  cage: Float32Array | null;
}

/**
 * Prepares a mesh to receive maps on one of its UV sets.
 * @param direction whether rays leave along smooth normals, continuous over hard edges, or along the mesh's own
 * @param cage the same mesh pushed outwards: rays then start on it and go to the place below
 * @throws input/no-uvs when the mesh has no such UV set, input/cage-topology
 */
export function prepareReceiver(
  mesh: Mesh,
  uvSet: number,
  direction: 'smooth' | 'split' = 'smooth',
  cage: Mesh | null = null,
): Receiver {
  const set = mesh.uvSets[uvSet];
  if (!set) {
    throw new ZographosError(
      'input/no-uvs',
      mesh.uvSets.length === 0
        ? `“${mesh.name}” has no UVs, so there is nowhere to put a map. Give it a UV set in the modeller and bring it in again.`
        : `“${mesh.name}” has ${mesh.uvSets.length} UV set(s), so there is no number ${uvSet + 1}. Choose one of: ${mesh.uvSets.map((s) => s.name).join(', ')}.`,
    );
  }
  const tangents = mikkTangents({
    positions: mesh.positions,
    normals: mesh.normals,
    uvs: set.coords,
    indices: mesh.indices,
  });
  return {
    positions: shareFloats(mesh.positions),
    normals: shareFloats(mesh.normals),
    uvs: shareFloats(set.coords),
    indices: shareUints(mesh.indices),
    directions: shareFloats(direction === 'split' ? mesh.normals : smoothNormals(mesh.positions, mesh.indices)),
    tangents: shareFloats(tangents),
    cage: cage && cagePositions(mesh, cage),
  };
}

function shareFloats(array: Float32Array): Float32Array {
  const shared = sharedFloat32(array.length);
  shared.set(array);
  return shared;
}

function shareUints(array: Uint32Array): Uint32Array {
  const shared = sharedUint32(array.length);
  shared.set(array);
  return shared;
}
