import { parentPort } from 'node:worker_threads';
import type { Lattice } from '@zographos/core/bake';
import { ZographosError } from '@zographos/core/errors';
import { unpackMesh } from '@zographos/formats/meshes';
import { eachInput, parseSettings, type OperationInputs } from '@zographos/operations';
import { measureReach, measureShell, type MeasuredReach, type MeasuredShell } from '@zographos/operations/bake';
import { repeatLattice, type RunMesh } from '@zographos/operations/scene';
import type { PackedInput } from '../worker/operationThread.ts';

export interface MeasureRequest {
  what: 'reach' | 'shell' | 'repeat';
  settings: unknown;
  inputs: OperationInputs<PackedInput>;
}

export type MeasureAnswer =
  | { reach: MeasuredReach }
  | { shell: MeasuredShell[] }
  | { repeat: Lattice | null }
  | { code: ZographosError['code']; message: string };

parentPort!.on('message', (request: MeasureRequest) => {
  measure(request).then(
    (answer) => parentPort!.postMessage(answer),
    (error: unknown) => {
      if (!(error instanceof ZographosError)) throw error;
      parentPort!.postMessage({ code: error.code, message: error.message } satisfies MeasureAnswer);
    },
  );
});

async function measure({ what, settings: given, inputs: packed }: MeasureRequest): Promise<MeasureAnswer> {
  const settings = parseSettings('bake', given);
  const inputs = await eachInput(packed, ({ hash, name, packed: bytes }): RunMesh => ({
    hash,
    mesh: { ...unpackMesh(bytes), name },
  }));
  switch (what) {
    case 'reach':
      return { reach: measureReach(inputs, settings) };
    case 'shell':
      return { shell: measureShell(inputs, settings) };
    case 'repeat':
      return { repeat: repeatLattice(inputs, settings) };
  }
}
