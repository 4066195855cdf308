import { parentPort } from 'node:worker_threads';
import {
  histograms,
  ZographosError,
  type ChannelHistogram,
  type ErrorCode,
  type Image,
  type MapKind,
} from '@zographos/core';
import { limitsFrom, readImageFile } from '@zographos/formats/images';
import { unpackMesh } from '@zographos/formats/meshes';
import {
  eachInput,
  parseSettings,
  type OperationInputs,
  type OperationKind,
  type RunReport,
} from '@zographos/operations';
import {
  runBake,
  type Canvas,
  type Progress,
  type ProofDetails,
  type Region,
  type RunMesh,
  type TileRecord,
} from '@zographos/operations/run';

import type { PackedEarlierBake } from './earlierBake.ts';

/** What the worker asks of its operation thread. */
export interface OperationRequest {
  operation: OperationKind;
  settings: unknown;
  inputs: OperationInputs<PackedInput>;
  /** The one rectangle to bake, if it is not the whole. */
  region: Region | null;
  earlier: PackedEarlierBake | null;
  threads: number;
  memoryLimitBytes: number;
  /** Shared memory: 1 asks the run to stop. */
  cancelFlag: Int32Array;
  loadSeconds: number;
}

/** A mesh on its way to the operation, under the name it has in the project. */
export interface PackedInput {
  hash: string;
  name: string;
  /** The name of the file that it came in. */
  file: string;
  packed: Uint8Array;
}

export interface MadeMap {
  kind: MapKind;
  tile: number;
  /** In shared memory, so that passing it on costs nothing. */
  image: Image;
  states: Uint8Array;
  histograms: ChannelHistogram[];
}

export type OperationMessage =
  | { kind: 'progress'; progress: Progress }
  | { kind: 'canvas'; canvas: Canvas }
  | { kind: 'done'; maps: MadeMap[]; proof: ProofDetails; records: TileRecord[]; report: RunReport }
  | { kind: 'failed'; code: ErrorCode; message: string; detail?: string };

const tell = (message: OperationMessage): void => parentPort!.postMessage(message);

parentPort!.on('message', (request: OperationRequest) => {
  run(request).catch((error: unknown) => {
    if (error instanceof ZographosError) tell({ kind: 'failed', code: error.code, message: error.message });
    else {
      tell({
        kind: 'failed',
        code: 'run/failed',
        message:
          'The run stopped because of a fault in Zographos itself, which was logged. Nothing was changed; try other settings.',
        detail: error instanceof Error ? (error.stack ?? error.message) : String(error),
      });
    }
  });
});

async function run({ operation, settings, inputs: given, earlier, ...rest }: OperationRequest): Promise<void> {
  const { mask, ...inputs } = given;
  const load = ({ hash, name, packed }: PackedInput): RunMesh => ({ hash, mesh: { ...unpackMesh(packed), name } });
  const { maps, proof, records, report } = await runBake({
    ...rest,
    mask: mask ? await readImageFile(mask.file, mask.packed, limitsFrom(process.env)) : null,
    maskHash: mask?.hash ?? null,
    earlier: earlier && {
      tiles: earlier.tiles,
      load: (kind, tile) => Promise.resolve(earlier.maps.find((map) => map.kind === kind && map.tile === tile) ?? null),
    },
    settings: parseSettings(operation, settings),
    inputs: await eachInput(inputs, load),
    onProgress: (progress) => tell({ kind: 'progress', progress }),
    onCanvas: (canvas) => tell({ kind: 'canvas', canvas }),
  });
  const made = maps.map((map) => ({ ...map, histograms: histograms(map.image, map.states) }));
  tell({ kind: 'done', maps: made, proof, records, report });
}
