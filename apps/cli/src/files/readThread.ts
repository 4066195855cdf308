import { parentPort } from 'node:worker_threads';
import { ZographosError } from '@zographos/core/errors';
import type { Image } from '@zographos/core/image';
import type { ImageInspection } from '@zographos/formats/images';
import type { FormatLimits, MeshFile } from '@zographos/formats/meshes';
import { readBeside } from './readBeside.ts';

/** One file to be read. */
export type ReadRequest =
  | { kind: 'meshes'; name: string; file: string; bytes: Uint8Array; limits: FormatLimits }
  | { kind: 'inspection'; name: string; bytes: Uint8Array; limits: FormatLimits }
  | { kind: 'image'; name: string; bytes: Uint8Array; limits: FormatLimits };

export interface ReadResults {
  meshes: MeshFile;
  inspection: ImageInspection;
  image: Image;
}

export type ReadAnswer = { result: ReadResults[keyof ReadResults] } | { code: ZographosError['code']; message: string };

parentPort!.on('message', (request: ReadRequest) => {
  read(request).then(
    (result) => parentPort!.postMessage({ result } satisfies ReadAnswer, buffersOf(result)),
    (error: unknown) => {
      const known = error instanceof ZographosError ? error : damaged(request.name, error);
      parentPort!.postMessage({ code: known.code, message: known.message } satisfies ReadAnswer);
    },
  );
});

async function read(request: ReadRequest): Promise<ReadResults[keyof ReadResults]> {
  const { name, bytes, limits } = request;
  // Readers are loaded when they are needed: whoever reads one mesh does not wait for those of images.
  if (request.kind === 'meshes') {
    const { readMeshFile } = await import('@zographos/formats/meshes');
    return readMeshFile({ name, bytes, limits, companion: (part) => readBeside(request.file, part, limits) });
  }
  const { inspectImageFile, readImageFile } = await import('@zographos/formats/images');
  if (request.kind === 'image') return readImageFile(name, bytes, limits);
  return (await inspectImageFile(name, bytes, limits)).inspection;
}

/** What is large is handed over rather than copied. */
function buffersOf(result: ReadResults[keyof ReadResults]): ArrayBuffer[] {
  if ('data' in result) return [result.data.buffer as ArrayBuffer];
  if (!('objects' in result)) return [];
  const arrays = result.objects.flatMap(({ mesh }) => [mesh.positions, mesh.normals, mesh.indices]);
  return [...new Set(arrays.map(({ buffer }) => buffer as ArrayBuffer))];
}

const damaged = (name: string, cause: unknown): ZographosError =>
  new ZographosError(
    'input/unreadable-file',
    `“${name}” cannot be read: it is damaged or uses something unknown here. Export it again.`,
    { cause },
  );
