import { parentPort } from 'node:worker_threads';
import { suggestReach, type SuggestedReach } from '@zographos/core';
import { unpackMesh } from '@zographos/formats/meshes';
import { builtScene } from '@zographos/operations/run';

export interface MeasureRequest {
  receiver: { hash: string; packed: Uint8Array };
  sources: { hash: string; packed: Uint8Array }[];
}

parentPort!.on('message', ({ receiver, sources }: MeasureRequest) => {
  const meshes = sources.map(({ hash, packed }) => ({ hash, mesh: unpackMesh(packed) }));
  const { scene, tracer } = builtScene(meshes, 0, () => {});
  const reach: SuggestedReach = suggestReach(unpackMesh(receiver.packed), scene, tracer);
  parentPort!.postMessage(reach);
});
