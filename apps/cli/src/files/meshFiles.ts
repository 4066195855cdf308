import { readFile, stat } from 'node:fs/promises';
import path from 'node:path';
import { ZographosError } from '@zographos/core/errors';
import { joinMeshes } from '@zographos/core/mesh';
import { limitsFrom } from '@zographos/formats/meshes';
import type { OperationInputs } from '@zographos/operations';
import { hashedMesh, type RunMesh } from '@zographos/operations/scene';
import { readOnThread } from './readOnThread.ts';

/**
 * Loads the objects of a mesh file, with what lies beside it.
 * @param object the object to take; all of them when undefined
 * @throws ZographosError when the file or object is missing or cannot be read
 */
export async function loadMeshes(file: string, object?: string): Promise<RunMesh[]> {
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
  const bytes = await readFile(file);
  const { objects, missingPictures } = await readOnThread({ kind: 'meshes', name, file, bytes, limits });
  if (missingPictures.length > 0) {
    process.stderr.write(
      `The materials of “${name}” name pictures that are not there: ${missingPictures.join(', ')}.\n`,
    );
  }
  const meshes = objects.map((entry) => entry.mesh);
  const chosen = object === undefined ? meshes : meshes.filter((mesh) => mesh.name === object);
  if (chosen.length === 0) {
    throw new ZographosError(
      'missing/not-found',
      `“${name}” has no object “${object}”. It holds: ${meshes.map((mesh) => mesh.name).join(', ')}.`,
    );
  }
  return chosen.map(hashedMesh);
}

/** The same objects as one mesh. */
export function oneMesh(file: string, objects: RunMesh[]): RunMesh {
  return objects.length === 1
    ? objects[0]!
    : hashedMesh(
        joinMeshes(
          path.basename(file),
          objects.map(({ mesh }) => mesh),
        ),
      );
}

/** A file of a bake, and the object in it that is meant; all of them when left out. */
export interface MeshPlace {
  file: string;
  object?: string | undefined;
}

/** Loads all meshes of a bake. Objects stay apart; but a cage, and what it belongs to, is one mesh. */
export async function loadInputs({
  receivers,
  sources,
  cage,
}: OperationInputs<MeshPlace>): Promise<Pick<OperationInputs<RunMesh>, 'receivers' | 'sources' | 'cage'>> {
  const load = ({ file, object }: MeshPlace): Promise<RunMesh[]> => loadMeshes(file, object);
  const whole = async (place: MeshPlace): Promise<RunMesh> => oneMesh(place.file, await load(place));
  return {
    receivers: cage ? await Promise.all(receivers.map(whole)) : (await Promise.all(receivers.map(load))).flat(),
    sources: (await Promise.all(sources.map(load))).flat(),
    ...(cage ? { cage: await whole(cage) } : {}),
  };
}
