import { parentPort } from 'node:worker_threads';
import { zipSync } from 'fflate';
import {
  guideDrawing,
  inspectMesh,
  joinMeshes,
  layoutOf,
  splitMesh,
  ZographosError,
  type GuideOptions,
  type Mesh,
  type MeshInspection,
  type SplitBy,
} from '@zographos/core';
import { drawSvg } from '@zographos/formats/images';
import { packMesh, unpackMesh, writeMeshFiles, type MeshOutFormat, type NamedFile } from '@zographos/formats/meshes';
import { changeMesh, type MeshChange } from '@zographos/operations';

/** One piece of work on meshes that is soon done. */
export type MeshRequest =
  | { what: 'change'; mesh: Uint8Array; change: MeshChange }
  | { what: 'split'; mesh: Uint8Array; name: string; how: SplitBy }
  | { what: 'join'; meshes: Uint8Array[]; name: string }
  | { what: 'file'; meshes: NamedMesh[]; name: string; format: MeshOutFormat }
  | { what: 'guide'; meshes: NamedMesh[]; uvSets: number[]; options: GuideOptions; format: 'png' | 'tif' | 'svg' };

export interface NamedMesh {
  name: string;
  packed: Uint8Array;
}

export interface ReadyMesh {
  name: string;
  packed: Uint8Array<ArrayBuffer>;
  inspection: MeshInspection;
}

export type MeshAnswer =
  { meshes: ReadyMesh[] } | { file: NamedFile } | { code: ZographosError['code']; message: string };

parentPort!.on('message', (request: MeshRequest) => {
  void answerTo(request).then((answer) => {
    const moved = 'meshes' in answer ? answer.meshes.map(({ packed }) => packed.buffer) : [];
    parentPort!.postMessage(answer, moved);
  });
});

async function answerTo(request: MeshRequest): Promise<MeshAnswer> {
  try {
    switch (request.what) {
      case 'change':
        return { meshes: [ready(changeMesh(unpackMesh(request.mesh), request.change))] };
      case 'split':
        return { meshes: splitMesh({ ...unpackMesh(request.mesh), name: request.name }, request.how).map(ready) };
      case 'join':
        return { meshes: [ready(joinMeshes(request.name, request.meshes.map(unpackMesh)))] };
      case 'file':
        return { file: await fileOf(request) };
      case 'guide':
        return { file: await guideOf(request) };
    }
  } catch (error) {
    if (error instanceof ZographosError) return { code: error.code, message: error.message };
    throw error;
  }
}

const ready = (mesh: Mesh): ReadyMesh => ({ name: mesh.name, packed: packMesh(mesh), inspection: inspectMesh(mesh) });
const named = ({ name, packed }: NamedMesh): Mesh => ({ ...unpackMesh(packed), name });

/** One file; several that belong together come as a ZIP. */
async function fileOf({ meshes, name, format }: Extract<MeshRequest, { what: 'file' }>): Promise<NamedFile> {
  const files = await writeMeshFiles(name, meshes.map(named), format);
  if (files.length === 1) return files[0];
  const entries = Object.fromEntries(files.map(({ name: entry, bytes }) => [entry, bytes]));
  return { name: `${name}.zip`, bytes: zipSync(entries, { level: 6 }) };
}

async function guideOf({
  meshes,
  uvSets,
  options,
  format,
}: Extract<MeshRequest, { what: 'guide' }>): Promise<NamedFile> {
  const parts = meshes.map((mesh, i) => ({ name: mesh.name, layout: layoutOf(named(mesh), uvSets[i] ?? 0) }));
  const svg = guideDrawing(parts, options);
  const bytes = format === 'svg' ? new TextEncoder().encode(svg) : await drawSvg(svg, format);
  return { name: `${meshes[0]!.name}_guide.${options.tile}.${format}`, bytes };
}
