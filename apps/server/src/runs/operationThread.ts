import { parentPort } from 'node:worker_threads';
import {
  histograms,
  inspectMesh,
  ZographosError,
  type ChannelHistogram,
  type ErrorCode,
  type Image,
  type MapKind,
} from '@zographos/core';
import { limitsFrom, readImageFile } from '@zographos/formats/images';
import { packMesh, unpackMesh } from '@zographos/formats/packed-mesh';
import {
  eachInput,
  parseSettings,
  type LayoutReport,
  type OperationInputs,
  type OperationKind,
  type RunReport,
} from '@zographos/operations';
import {
  RUN_FLAG,
  runBake,
  runLayout,
  type Canvas,
  type Progress,
  type ProofDetails,
  type Region,
  type RunMesh,
  type TileRecord,
} from '@zographos/operations/run';

import type { ReadyMesh } from '../meshes/meshThread.ts';
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
  /** Shared memory: one of `RUN_FLAG`. */
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

/** What an operation has made. */
export type OperationDone =
  | { operation: 'bake'; maps: MadeMap[]; proof: ProofDetails; records: TileRecord[]; report: RunReport }
  | { operation: 'layout'; meshes: ReadyMesh[]; report: LayoutReport };

export type OperationMessage =
  | { kind: 'progress'; progress: Progress }
  | { kind: 'canvas'; canvas: Canvas }
  | { kind: 'done'; done: OperationDone }
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

async function run(request: OperationRequest): Promise<void> {
  const done = request.operation === 'bake' ? await bake(request) : await layOutMeshes(request);
  tell({ kind: 'done', done });
}

const loaded = ({ hash, name, packed }: PackedInput): RunMesh => ({ hash, mesh: { ...unpackMesh(packed), name } });
const onProgress = (progress: Progress): void => tell({ kind: 'progress', progress });

async function bake({ settings, inputs: given, earlier, ...rest }: OperationRequest): Promise<OperationDone> {
  const { mask, ...inputs } = given;
  const { maps, proof, records, report } = await runBake({
    ...rest,
    mask: mask ? await readImageFile(mask.file, mask.packed, limitsFrom(process.env)) : null,
    maskHash: mask?.hash ?? null,
    earlier: earlier && {
      tiles: earlier.tiles,
      load: (kind, tile) => Promise.resolve(earlier.maps.find((map) => map.kind === kind && map.tile === tile) ?? null),
    },
    settings: parseSettings('bake', settings),
    inputs: await eachInput(inputs, loaded),
    onProgress,
    onCanvas: (canvas) => tell({ kind: 'canvas', canvas }),
  });
  const made = maps.map((map) => ({ ...map, histograms: histograms(map.image, map.states) }));
  return { operation: 'bake', maps: made, proof, records, report };
}

/** How often it is looked whether a layout is to stop: its own thread does not hear while it cuts. */
const CANCEL_MS = 100;

async function layOutMeshes({ settings, inputs, cancelFlag }: OperationRequest): Promise<OperationDone> {
  const since = performance.now();
  const cancel = new AbortController();
  const watch = setInterval(() => {
    if (Atomics.load(cancelFlag, 0) === RUN_FLAG.cancel) cancel.abort();
  }, CANCEL_MS);
  try {
    const meshes = inputs.receivers.map((input) => loaded(input).mesh);
    const laidOut = await runLayout(
      meshes,
      parseSettings('layout', settings),
      ({ stage, share, coverage }) =>
        onProgress({
          stage,
          share: stage === 'cut' ? share * 0.5 : 0.5 + share * 0.5,
          secondsLeft: null,
          note: coverage === null ? null : `${Math.round(coverage * 100)} % covered so far`,
        }),
      cancel.signal,
      cancelFlag,
    );
    const { coverage, scale, islands } = laidOut;
    const ready = laidOut.meshes.map((mesh) => ({
      name: mesh.name,
      packed: packMesh(mesh),
      inspection: inspectMesh(mesh),
    }));
    const seconds = (performance.now() - since) / 1000;
    return { operation: 'layout', meshes: ready, report: { coverage, scale, islands, seconds } };
  } finally {
    clearInterval(watch);
  }
}
