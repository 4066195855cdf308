import path from 'node:path';
import { mkdir } from 'node:fs/promises';
import { ZographosError } from '@zographos/core/errors';
import type { Mesh } from '@zographos/core/mesh';
import { MESH_OUT_FORMATS, writeMeshFiles } from '@zographos/formats/meshes';
import { writeWhole } from './writeWhole.ts';

/**
 * Writes meshes into one file, by its ending; pictures and materials of an OBJ lie beside it.
 * @throws input/wrong-file-type
 */
export async function writeMeshes(file: string, meshes: readonly Mesh[]): Promise<void> {
  const { dir, name, ext } = path.parse(file);
  const format = MESH_OUT_FORMATS.find((known) => `.${known}` === ext.toLowerCase());
  if (!format) {
    throw new ZographosError(
      'input/wrong-file-type',
      `“${file}” names no format that meshes are written in. End it in .glb, .obj or .ply.`,
    );
  }
  await mkdir(dir || '.', { recursive: true });
  for (const { name: part, bytes } of await writeMeshFiles(name, meshes, format)) {
    await writeWhole(path.join(dir, path.basename(part)), bytes);
  }
}
