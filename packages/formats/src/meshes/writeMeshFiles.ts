import { joinMeshes, type Mesh } from '@zographos/core';
import { writeGlb } from './writeGlb.ts';
import { writeMtl } from './writeMtl.ts';
import { writeObj } from './writeObj.ts';
import { writePly } from './writePly.ts';

export const MESH_OUT_FORMATS = ['glb', 'obj', 'ply'] as const;
export type MeshOutFormat = (typeof MESH_OUT_FORMATS)[number];

export interface NamedFile {
  name: string;
  bytes: Uint8Array;
}

/**
 * Meshes as files: one, and beside an OBJ its materials and their pictures. A PLY holds one mesh; several are joined.
 * @param name of the first file, without its ending
 */
export async function writeMeshFiles(
  name: string,
  meshes: readonly Mesh[],
  format: MeshOutFormat,
): Promise<[NamedFile, ...NamedFile[]]> {
  switch (format) {
    case 'glb':
      return [{ name: `${name}.glb`, bytes: await writeGlb(meshes) }];
    case 'ply':
      return [{ name: `${name}.ply`, bytes: writePly(meshes.length === 1 ? meshes[0]! : joinMeshes(name, meshes)) }];
    case 'obj': {
      const hasMaterials = meshes.some(({ materials }) => materials);
      const obj = { name: `${name}.obj`, bytes: writeObj(meshes, hasMaterials ? `${name}.mtl` : undefined) };
      if (!hasMaterials) return [obj];
      const mtl = { name: `${name}.mtl`, bytes: writeMtl(meshes) };
      const pictures = new Map(meshes.flatMap((mesh) => mesh.pictures ?? []).map((picture) => [picture.name, picture]));
      return [obj, mtl, ...pictures.values()];
    }
  }
}
