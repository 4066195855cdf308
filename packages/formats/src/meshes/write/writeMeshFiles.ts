import { joinMeshes, uvSetFirst, type Mesh } from '@zographos/core/mesh';
import type { NamedFile } from '../meshFile.ts';
import { writeGlb, writeGlbBeside } from './writeGlb.ts';
import { writeMtl } from './writeMtl.ts';
import { writeObj } from './writeObj.ts';
import { writePly } from './writePly.ts';

export const MESH_OUT_FORMATS = ['glb', 'obj', 'ply'] as const;
export type MeshOutFormat = (typeof MESH_OUT_FORMATS)[number];

/**
 * Meshes as files: one, and beside an OBJ its materials and their pictures, and an OBJ for each further UV set, of which
 * that format holds but one. A PLY holds one mesh; several are joined.
 * @param name of the first file, without its ending
 */
export async function writeMeshFiles(
  name: string,
  meshes: readonly Mesh[],
  format: MeshOutFormat,
  picturesBeside = false,
): Promise<[NamedFile, ...NamedFile[]]> {
  switch (format) {
    case 'glb':
      return picturesBeside ? writeGlbBeside(name, meshes) : [{ name: `${name}.glb`, bytes: await writeGlb(meshes) }];
    case 'ply':
      return [{ name: `${name}.ply`, bytes: writePly(meshes.length === 1 ? meshes[0]! : joinMeshes(name, meshes)) }];
    case 'obj': {
      const hasMaterials = meshes.some(({ materials }) => materials);
      const library = hasMaterials ? `${name}.mtl` : undefined;
      const obj = { name: `${name}.obj`, bytes: writeObj(meshes, library) };
      const further = furtherSets(meshes).map(([set, title]) => ({
        name: `${name}.${title}.obj`,
        bytes: writeObj(
          meshes.map((mesh) => onSet(mesh, set)),
          library,
        ),
      }));
      if (!hasMaterials) return [obj, ...further];
      const mtl = { name: `${name}.mtl`, bytes: writeMtl(meshes) };
      const pictures = new Map(meshes.flatMap((mesh) => mesh.pictures ?? []).map((picture) => [picture.name, picture]));
      return [obj, ...further, mtl, ...pictures.values()];
    }
  }
}

/** UV sets behind the first, with names that are safe in files. */
function furtherSets(meshes: readonly Mesh[]): [set: number, title: string][] {
  const widest = meshes.reduce((most, mesh) => (mesh.uvSets.length > most.uvSets.length ? mesh : most), meshes[0]!);
  return widest.uvSets.slice(1).map(({ name }, i) => [i + 1, name.replace(/[^\w-]+/g, '_') || `UV_${i + 2}`]);
}

/** The mesh with one of its UV sets before the others; with its first, if it lacks that. */
function onSet(mesh: Mesh, set: number): Mesh {
  if (!mesh.uvSets[set]) return mesh;
  return uvSetFirst(mesh, set);
}
