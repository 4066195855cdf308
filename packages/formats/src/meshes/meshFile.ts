import type { Mesh } from '@zographos/core/mesh';
import type { FormatLimits } from '../limits.ts';

export interface MeshFileObject {
  mesh: Mesh;
  /** True when the file held no normals and they were computed. */
  computedNormals: boolean;
  /** Triangles left out because a coordinate was not a finite number. */
  droppedTriangles: number;
}

export interface MeshFile {
  objects: MeshFileObject[];
  /** Pictures that its materials name and that are not there. */
  missingPictures: string[];
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

/** A file that is to be written. */
export interface NamedFile {
  name: string;
  bytes: Uint8Array;
}
