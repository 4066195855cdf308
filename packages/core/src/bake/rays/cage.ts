import { ZographosError } from '../../errors.ts';
import { boundsOf, diagonal } from '../../mesh/bounds.ts';
import { triangleCount, type Mesh } from '../../mesh/mesh.ts';
import { sharedFloat32 } from '../../sharedArrays.ts';

/** Corners of one vertex may lie apart in the cage by this share of its size before it counts as torn. */
const TOLERANCE = 1e-5;

/**
 * Where each vertex of a receiver lies on its cage: a copy of the receiver, pushed outwards by hand, from whose
 * surface rays start. Triangles are matched by their order and corners by theirs, so that the cage may have other
 * normals and UVs.
 * @returns x, y, z for each vertex of the receiver
 * @throws input/cage-topology when the cage is not the same mesh
 */
export function cagePositions(receiver: Mesh, cage: Mesh): Float32Array {
  if (triangleCount(cage) !== triangleCount(receiver)) {
    throw new ZographosError(
      'input/cage-topology',
      `The cage “${cage.name}” has ${triangleCount(cage)} triangles, but “${receiver.name}” has ${triangleCount(receiver)}. Make the cage by moving vertices of a copy, without adding or removing any.`,
    );
  }
  const positions = sharedFloat32(receiver.positions.length).fill(NaN);
  const slack = diagonal(boundsOf(cage.positions)) * TOLERANCE;
  for (let i = 0; i < receiver.indices.length; i++) {
    const to = receiver.indices[i]! * 3;
    const from = cage.indices[i]! * 3;
    for (let k = 0; k < 3; k++) {
      const value = cage.positions[from + k]!;
      if (Math.abs(positions[to + k]! - value) > slack) {
        throw new ZographosError(
          'input/cage-topology',
          `The cage “${cage.name}” is not made of the same triangles as “${receiver.name}”: corners of one vertex lie apart in it. Export both in the same order, with vertices kept.`,
        );
      }
      positions[to + k] = value;
    }
  }
  // Vertices that no triangle uses stay where they are.
  for (let i = 0; i < positions.length; i++) if (Number.isNaN(positions[i])) positions[i] = receiver.positions[i]!;
  return positions;
}
