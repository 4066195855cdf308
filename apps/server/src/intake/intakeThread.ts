import path from 'node:path';
import { parentPort } from 'node:worker_threads';
import { ZographosError } from '@zographos/core/errors';
import type { ColorSpace, Image } from '@zographos/core/image';
import type { MeshInspection } from '@zographos/core/inspection';
import type { UnfoldedArchive } from '@zographos/formats/archive';
import type { ImageFormat, ImageInspection, LayeredFile } from '@zographos/formats/images';
import type { FormatLimits } from '@zographos/formats/meshes';

/** One question to the intake thread. */
export type IntakeRequest =
  | { kind: 'mesh'; name: string; bytes: Uint8Array; companions: Record<string, Uint8Array>; limits: FormatLimits }
  | { kind: 'image' | 'layered' | 'exrLayers'; name: string; bytes: Uint8Array; limits: FormatLimits }
  /** Of a stack its JSON is taken out too. */
  | { kind: 'archive'; name: string; bytes: Uint8Array; maxExpandedBytes: number; holds?: 'stack' }
  | {
      kind: 'samples';
      name: string;
      bytes: Uint8Array;
      side: number | 'sketch';
      colorSpace: ColorSpace;
      limits: FormatLimits;
    }
  /** The files of the demo project, which are made and not read. */
  | { kind: 'demo'; name: string }
  /** Samples as a file, to be taken in like any other. */
  | { kind: 'file'; name: string; image: Image; format: ImageFormat };

export interface ReadObject {
  name: string;
  unit: 'm' | 'mm' | null;
  packed: Uint8Array;
  inspection: MeshInspection;
}

export type IntakeAnswer =
  | { kind: 'mesh'; objects: ReadObject[] }
  | { kind: 'image'; inspection: ImageInspection; thumbnail: Uint8Array }
  | ({ kind: 'layered' } & LayeredFile)
  | { kind: 'exrLayers'; files: { name: string; bytes: Uint8Array }[] }
  | ({ kind: 'archive' } & UnfoldedArchive)
  | { kind: 'samples'; image: Image }
  | { kind: 'demo'; files: { name: string; bytes: Uint8Array }[] }
  | { kind: 'file'; bytes: Uint8Array }
  | { kind: 'error'; code: ZographosError['code']; message: string };

parentPort!.on('message', (request: IntakeRequest) => {
  answer(request).then(
    (result) => parentPort!.postMessage(result),
    (error: unknown) => {
      const failure: IntakeAnswer =
        error instanceof ZographosError
          ? { kind: 'error', code: error.code, message: error.message }
          : {
              kind: 'error',
              code: 'input/unreadable-file',
              message: `“${request.name}” cannot be read: it is damaged or uses something unknown here. Export it again.`,
            };
      parentPort!.postMessage(failure);
    },
  );
});

/** Readers are loaded when they are needed: a thread reads one file, and need not wait for those of others. */
async function answer(request: IntakeRequest): Promise<IntakeAnswer> {
  switch (request.kind) {
    case 'mesh': {
      const { name, bytes, companions, limits } = request;
      const { packMesh, readMeshFile } = await import('@zographos/formats/meshes');
      const { inspectMesh } = await import('@zographos/core/inspection');
      const file = await readMeshFile({
        name: baseOf(name),
        bytes,
        limits,
        companion: (part) => Promise.resolve(companionOf(name, part, companions)),
      });
      const objects = file.objects.map(({ mesh, computedNormals, droppedTriangles }) => ({
        name: mesh.name,
        unit: file.unit,
        packed: packMesh(mesh),
        inspection: inspectMesh(mesh, { computedNormals, droppedTriangles, missingPictures: file.missingPictures }),
      }));
      return { kind: 'mesh', objects };
    }
    case 'image': {
      const { inspectImageFile } = await import('@zographos/formats/images');
      return { kind: 'image', ...(await inspectImageFile(request.name, request.bytes, request.limits)) };
    }
    case 'layered': {
      const { readLayeredFile } = await import('@zographos/formats/images');
      return { kind: 'layered', ...(await readLayeredFile(request.name, request.bytes, request.limits)) };
    }
    case 'exrLayers': {
      const { splitExrLayers } = await import('@zographos/formats/images');
      return { kind: 'exrLayers', files: await splitExrLayers(request.name, request.bytes, request.limits) };
    }
    case 'samples':
      return { kind: 'samples', image: await samples(request) };
    case 'file': {
      const { encodeImage } = await import('@zographos/formats/images');
      return { kind: 'file', bytes: await encodeImage(request.image, request.format) };
    }
    case 'demo': {
      const { demoFiles } = await import('@zographos/demo');
      const files: { name: string; bytes: Uint8Array }[] = [];
      for await (const file of demoFiles()) files.push(file);
      return { kind: 'demo', files };
    }
    case 'archive': {
      const { isUseful, unfoldArchive } = await import('@zographos/formats/archive');
      const { name, bytes, maxExpandedBytes, holds } = request;
      const isWanted = holds === 'stack' ? (entry: string) => isUseful(entry) || /\.json$/i.test(entry) : isUseful;
      return { kind: 'archive', ...unfoldArchive(name, bytes, maxExpandedBytes, isWanted) };
    }
  }
}

/** An image as light, no larger than is asked for. */
async function samples(request: IntakeRequest & { kind: 'samples' }): Promise<Image> {
  const { name, bytes, side, colorSpace, limits } = request;
  const { resample, sketchOf } = await import('@zographos/core/image');
  const { sizeWithin } = await import('@zographos/core/math');
  const { readImageFile } = await import('@zographos/formats/images');
  const { asMeantBy } = await import('@zographos/operations/preview');
  const image = asMeantBy({ colorSpace }, await readImageFile(name, bytes, limits));
  if (side === 'sketch') return sketchOf(image);
  return resample(image, sizeWithin(image, side), 'linear');
}

const baseOf = (name: string): string => name.slice(name.lastIndexOf('/') + 1);
/** With its slash; empty for none. */
const folderOf = (name: string): string => name.slice(0, name.lastIndexOf('/') + 1);

/** What a file names: beside it, where it says; else whatever has that name, for paths of other machines mean nothing. */
function companionOf(of: string, part: string, companions: Record<string, Uint8Array>): Uint8Array | null {
  const clean = part.replaceAll('\\', '/');
  const beside = path.posix.normalize(folderOf(of) + clean).toLowerCase();
  const all = Object.entries(companions);
  const found =
    all.find(([other]) => other.toLowerCase() === beside) ??
    all.find(([other]) => baseOf(other).toLowerCase() === baseOf(clean).toLowerCase());
  return found?.[1] ?? null;
}
