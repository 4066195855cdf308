import type { Mesh } from '@zographos/core';
import type { FormatLimits } from '../limits.ts';

/** What a file says about one material, in glTF terms; colours are linear. */
export interface MaterialNote {
  name: string;
  baseColor: [number, number, number, number];
  metallic: number;
  roughness: number;
  /** The file of the base colour image as the mesh file names it. */
  baseColorImage: string | null;
}

export interface MeshFileObject {
  mesh: Mesh;
  /** True when the file held no normals and they were computed. */
  computedNormals: boolean;
  /** Triangles left out because a coordinate was not a finite number. */
  droppedTriangles: number;
}

export interface MeshFile {
  objects: MeshFileObject[];
  materials: MaterialNote[];
  /** The unit the format prescribes; null where it prescribes none. */
  unit: 'm' | 'mm' | null;
}

/** Fetches a file that a mesh file refers to (a buffer, a material library), or null if it is not there. */
export type Companion = (name: string) => Promise<Uint8Array | null>;

export interface MeshSource {
  name: string;
  bytes: Uint8Array;
  companion: Companion;
  limits: FormatLimits;
}
