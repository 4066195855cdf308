import { collapseDegenerate } from '../mesh/degenerate.ts';
import { smoothNormals } from '../mesh/normals.ts';
import type { Mesh } from '../mesh/mesh.ts';
import { sharedFloat32, sharedUint16, sharedUint32 } from '../sharedArrays.ts';
import { layoutOf } from '../uv/layout.ts';
import { cagePositions } from './rays/cage.ts';
import type { DirectionBlend } from './rays/directionBlend.ts';
import { mikkTangents } from './tangents/mikkTangents.ts';

/** One or more meshes made ready to carry maps together: all that a block of texels needs, shared by threads. */
export interface Receiver {
  positions: Float32Array;
  normals: Float32Array;
  /** u, v for each vertex in the chosen UV set. */
  uvs: Float32Array;
  indices: Uint32Array;
  /** Unit directions along which rays leave each vertex. */
  directions: Float32Array;
  /** Where rays turn from these directions to the mesh's own normals, if they do. */
  blend: DirectionBlend | null;
  /** Tangent and bitangent sign for each corner. */
  tangents: Float32Array;
  /** Where each vertex lies on the cage that rays start from, if there is one. */
  cage: Float32Array | null;
  /** The source's triangle that stands where each triangle does (see sharedTriangles), where a bake goes by that. */
  twins: Int32Array | null;
  /** How far rays start above each vertex and end below it, in mesh units. */
  reachOut: Float32Array;
  reachIn: Float32Array;
  /** The meshes: their names, and the group of source triangles that each may see. */
  parts: { name: string; group: number }[];
  /** The mesh that each triangle belongs to. */
  partOf: Uint16Array;
}

export interface ReceiverPart {
  mesh: Mesh;
  /** The group of source triangles it may see; NO_GROUP for none. */
  group: number;
  /** The same mesh pushed outwards: rays then start on it and go to the place below. */
  cage?: Mesh | undefined;
}

/**
 * Prepares meshes to receive maps on one of their UV sets.
 * @param direction whether rays leave along smooth normals, continuous over hard edges, or along the mesh's own
 * @param hasTangents whether tangents are wanted; without them nothing can be told in tangent space
 * @throws input/no-uvs when a mesh has no such UV set, input/cage-topology
 */
export function prepareReceiver(
  parts: readonly ReceiverPart[],
  uvSet: number,
  direction: 'smooth' | 'split' = 'smooth',
  hasTangents = true,
): Receiver {
  const vertices = parts.reduce((sum, { mesh }) => sum + mesh.positions.length / 3, 0);
  const triangles = parts.reduce((sum, { mesh }) => sum + mesh.indices.length / 3, 0);
  const hasCage = parts.some(({ cage }) => cage);
  const receiver: Receiver = {
    positions: sharedFloat32(vertices * 3),
    normals: sharedFloat32(vertices * 3),
    uvs: sharedFloat32(vertices * 2),
    indices: sharedUint32(triangles * 3),
    directions: sharedFloat32(vertices * 3),
    blend: null,
    tangents: sharedFloat32(hasTangents ? triangles * 12 : 0),
    twins: null,
    cage: hasCage ? sharedFloat32(vertices * 3) : null,
    reachOut: sharedFloat32(vertices),
    reachIn: sharedFloat32(vertices),
    parts: parts.map(({ mesh, group }) => ({ name: mesh.name, group })),
    partOf: sharedUint16(triangles),
  };
  let vertex = 0;
  let triangle = 0;
  parts.forEach(({ mesh, cage }, number) => {
    const { positions, normals, indices } = mesh;
    const { uvs } = layoutOf(mesh, uvSet);
    receiver.positions.set(positions, vertex * 3);
    receiver.normals.set(normals, vertex * 3);
    receiver.uvs.set(uvs, vertex * 2);
    receiver.directions.set(direction === 'split' ? normals : smoothNormals(positions, indices), vertex * 3);
    if (hasTangents) receiver.tangents.set(mikkTangents({ positions, normals, uvs, indices }), triangle * 12);
    receiver.cage?.set(cage ? cagePositions(mesh, cage) : positions, vertex * 3);
    // Triangles without area claim no texels, whatever their UVs are.
    const sampled = collapseDegenerate(positions, indices);
    for (let i = 0; i < sampled.length; i++) receiver.indices[triangle * 3 + i] = sampled[i]! + vertex;
    receiver.partOf.fill(number, triangle, triangle + indices.length / 3);
    vertex += positions.length / 3;
    triangle += indices.length / 3;
  });
  return receiver;
}

/** The group of source triangles that each triangle of a receiver may see. */
export const groupsOf = ({ partOf, parts }: Receiver): Uint16Array =>
  Uint16Array.from(partOf, (part) => parts[part]!.group);
