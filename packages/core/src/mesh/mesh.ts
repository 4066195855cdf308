import type { Material, MaterialPicture } from './material.ts';

/** One UV set of a mesh; the origin is bottom-left and one UDIM tile is one unit. */
export interface UvSet {
  name: string;
  /** u, v for each vertex. */
  coords: Float32Array;
  /** Islands that lie on each other on purpose, stack by stack; each is named by one of its triangles. */
  shared?: number[][];
}

/**
 * One object: an indexed triangle list whose vertices carry all attributes (a corner that differs in any
 * attribute is its own vertex). Lengths are in the units of the file it came from.
 */
export interface Mesh {
  name: string;
  /** x, y, z for each vertex. */
  positions: Float32Array;
  /** Unit x, y, z for each vertex. */
  normals: Float32Array;
  uvSets: UvSet[];
  /** r, g, b, a for each vertex, 0 to 1 as stored in the file; null when the mesh has none. */
  colors: Float32Array | null;
  /** Three vertex numbers for each triangle, counter-clockwise seen from outside. */
  indices: Uint32Array;
  /** Names of the material slots; never empty. */
  slots: string[];
  /** The slot of each triangle. */
  triangleSlots: Uint16Array;
  /** What is known of the material of each slot, and the pictures that these materials name. */
  materials?: Material[];
  pictures?: MaterialPicture[];
}

export const vertexCount = (mesh: Mesh): number => mesh.positions.length / 3;
export const triangleCount = (mesh: Mesh): number => mesh.indices.length / 3;
