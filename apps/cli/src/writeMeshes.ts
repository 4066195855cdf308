import path from 'node:path';
import { mkdir, writeFile } from 'node:fs/promises';
import { joinMeshes, ZographosError, type Mesh } from '@zographos/core';
import { writeGlb, writeMtl, writeObj, writePly } from '@zographos/formats/meshes';

/**
 * Writes meshes into one file, by its ending; pictures and materials of an OBJ lie beside it.
 * @throws input/wrong-file-type
 */
export async function writeMeshes(file: string, meshes: readonly Mesh[]): Promise<void> {
  const { dir, name, ext } = path.parse(file);
  await mkdir(dir || '.', { recursive: true });
  const beside = (part: string): string => path.join(dir, path.basename(part));
  switch (ext.toLowerCase()) {
    case '.glb':
      return writeFile(file, await writeGlb(meshes));
    case '.ply':
      return writeFile(file, writePly(meshes.length === 1 ? meshes[0]! : joinMeshes(name, meshes)));
    case '.obj': {
      const hasMaterials = meshes.some(({ materials }) => materials);
      await writeFile(file, writeObj(meshes, hasMaterials ? `${name}.mtl` : undefined));
      if (!hasMaterials) return;
      await writeFile(beside(`${name}.mtl`), writeMtl(meshes));
      for (const { pictures } of meshes) {
        for (const { name: picture, bytes } of pictures ?? []) await writeFile(beside(picture), bytes);
      }
      return;
    }
    default:
      throw new ZographosError(
        'input/wrong-file-type',
        `“${file}” names no format that meshes are written in. End it in .glb, .obj or .ply.`,
      );
  }
}
