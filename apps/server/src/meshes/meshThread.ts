import { parentPort } from 'node:worker_threads';
import {
  inspectMesh,
  joinMeshes,
  splitMesh,
  ZographosError,
  type Mesh,
  type MeshInspection,
  type SplitBy,
} from '@zographos/core';
import { packMesh, unpackMesh } from '@zographos/formats/packed-mesh';
import { changeMesh, type MeshChange } from '@zographos/operations';

/** One piece of work on meshes that is soon done. */
export type MeshRequest =
  | { what: 'change'; mesh: Uint8Array; change: MeshChange }
  | { what: 'split'; mesh: Uint8Array; name: string; how: SplitBy }
  | { what: 'join'; meshes: Uint8Array[]; name: string };

export interface ReadyMesh {
  name: string;
  packed: Uint8Array<ArrayBuffer>;
  inspection: MeshInspection;
}

export type MeshAnswer = { meshes: ReadyMesh[] } | { code: ZographosError['code']; message: string };

parentPort!.on('message', (request: MeshRequest) => {
  const answer = answerTo(request);
  const moved = 'meshes' in answer ? answer.meshes.map(({ packed }) => packed.buffer) : [];
  parentPort!.postMessage(answer, moved);
});

function answerTo(request: MeshRequest): MeshAnswer {
  try {
    return { meshes: work(request).map(ready) };
  } catch (error) {
    if (error instanceof ZographosError) return { code: error.code, message: error.message };
    throw error;
  }
}

function work(request: MeshRequest): Mesh[] {
  switch (request.what) {
    case 'change':
      return [changeMesh(unpackMesh(request.mesh), request.change)];
    case 'split':
      return splitMesh({ ...unpackMesh(request.mesh), name: request.name }, request.how);
    case 'join':
      return [joinMeshes(request.name, request.meshes.map(unpackMesh))];
  }
}

const ready = (mesh: Mesh): ReadyMesh => ({ name: mesh.name, packed: packMesh(mesh), inspection: inspectMesh(mesh) });
