import { readFile, stat } from 'node:fs/promises';
import path from 'node:path';
import { createHash } from 'node:crypto';
import { joinMeshes, ZographosError } from '@zographos/core';
import { limitsFrom, packMesh, readMeshFile } from '@zographos/formats/meshes';
import type { RunMesh } from '@zographos/operations/run';

/**
 * Loads a mesh file with what lies beside it.
 * @param object the object to take; all of them joined when undefined
 * @throws ZographosError when the file or object is missing or cannot be read
 */
export async function loadMesh(file: string, object?: string): Promise<RunMesh> {
  const limits = limitsFrom(process.env);
  const name = path.basename(file);
  const info = await stat(file).catch(() => null);
  if (!info?.isFile()) {
    throw new ZographosError('missing/not-found', `There is no file “${file}”. Check the path.`);
  }
  if (info.size > limits.bytes) {
    throw new ZographosError(
      'limit/bytes',
      `“${name}” has ${info.size} bytes, the limit is ${limits.bytes} (ZOGRAPHOS_MAX_BYTES). Raise the limit or use a smaller file.`,
    );
  }
  const { objects } = await readMeshFile({
    name,
    bytes: await readFile(file),
    limits,
    companion: async (part) => {
      const beside = path.resolve(path.dirname(file), part);
      return readFile(beside).catch(() => null);
    },
  });
  const meshes = objects.map((entry) => entry.mesh);
  const chosen = object === undefined ? meshes : meshes.filter((mesh) => mesh.name === object);
  if (chosen.length === 0) {
    throw new ZographosError(
      'missing/not-found',
      `“${name}” has no object “${object}”. It holds: ${meshes.map((mesh) => mesh.name).join(', ')}.`,
    );
  }
  const mesh = chosen.length === 1 ? chosen[0]! : joinMeshes(name, chosen);
  return { mesh, hash: createHash('sha256').update(packMesh(mesh)).digest('hex') };
}
