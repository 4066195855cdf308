import { parentPort } from 'node:worker_threads';
import { ZographosError, type ErrorCode } from '@zographos/core/errors';
import { histograms, type MapKind } from '@zographos/core/image';
import { unpackMesh } from '@zographos/formats/packed-mesh';
import {
  eachInput,
  operationOf,
  parseSettings,
  strokeOfRecord,
  type OperationInputs,
  type OperationKind,
  type OperationReports,
  type SetFacts,
  type StrokeRecord,
} from '@zographos/operations';
import type { Region, TileRecord } from '@zographos/operations/bake';
import type {
  Canvas,
  HeldMap,
  Made,
  MadeMap,
  Progress,
  ProofDetails,
  RunPicture,
  RunSet,
} from '@zographos/operations/run-context';
import type { RunMesh } from '@zographos/operations/scene';
import { readyMesh, type ReadyMesh } from '../meshes/readyMesh.ts';
import type { PackedEarlierBake } from './earlierBake.ts';

/**
 * The thread on which operations run. It knows none of them: it unpacks what a run is given, loads the operation from the
 * registry, and hands on what it makes, one thing after the other.
 */

/** What the worker asks of its operation thread. */
export interface OperationRequest {
  operation: OperationKind;
  settings: unknown;
  inputs: OperationInputs<PackedInput>;
  sets: PackedSet[];
  /** What was painted by hand, by names. */
  strokes: [string, StrokeRecord][];
  project: string;
  /** The one rectangle to bake, if it is not the whole. */
  region: Region | null;
  earlier: PackedEarlierBake | null;
  threads: number;
  memoryLimitBytes: number;
  /** Shared memory: one of `RUN_FLAG`. */
  cancelFlag: Int32Array;
  loadSeconds: number;
}

/** A mesh or a picture on its way to the operation, under the name it has in the project. */
export interface PackedInput extends Pick<RunPicture, 'hash' | 'image' | 'colorSpace' | 'convention'> {
  name: string;
  /** The name of the file that it came in. */
  file: string;
  packed: Uint8Array;
}

/** An image set on its way to the operation; its maps are asked for one by one. */
export interface PackedSet extends SetFacts, Pick<RunSet, 'tileWidth' | 'uvSet' | 'receivers'> {
  /** What made each of its maps, in their order. */
  made: (string | null)[];
}

/** What the operation asks for while it runs, and is answered. */
export type OperationAsk =
  | { ask: 'map'; set: number; kind: MapKind; tile: number }
  | { ask: 'mesh'; set: number }
  | { ask: 'put'; made: PackedMade };

/** Something made, as it leaves the thread: images in shared memory, so that passing them on costs nothing. */
export type PackedMade =
  ({ what: 'map' } & MadeMap) | { what: 'mesh'; mesh: ReadyMesh } | { what: 'file'; path: string; bytes: Uint8Array };

export interface OperationDone {
  report: OperationReports[OperationKind];
  proof?: ProofDetails;
  records?: TileRecord[];
}

export type OperationMessage =
  | { kind: 'progress'; progress: Progress }
  | { kind: 'canvas'; canvas: Canvas }
  | { kind: 'ask'; number: number; ask: OperationAsk }
  | { kind: 'done'; done: OperationDone }
  | { kind: 'failed'; code: ErrorCode; message: string; detail?: string };

/** What the worker answers to an ask. */
export type OperationAnswer =
  { number: number; answer: unknown } | { number: number; failed: { code: ErrorCode; message: string } };

const tell = (message: OperationMessage): void => parentPort!.postMessage(message);

const waiting = new Map<number, { resolve: (answer: unknown) => void; reject: (error: Error) => void }>();
let asked = 0;

/** Asks the worker for something, and waits. */
function ask<Answer>(what: OperationAsk): Promise<Answer> {
  const number = ++asked;
  return new Promise((resolve, reject) => {
    waiting.set(number, { resolve: resolve as (answer: unknown) => void, reject });
    tell({ kind: 'ask', number, ask: what });
  });
}

parentPort!.on('message', (message: OperationRequest | OperationAnswer) => {
  if ('number' in message) {
    const { resolve, reject } = waiting.get(message.number)!;
    waiting.delete(message.number);
    if ('failed' in message) reject(new ZographosError(message.failed.code, message.failed.message));
    else resolve(message.answer);
    return;
  }
  runOperation(message.operation, message).then(
    (done) => tell({ kind: 'done', done }),
    (error: unknown) => tell(failureOf(error)),
  );
});

function failureOf(error: unknown): OperationMessage {
  if (error instanceof ZographosError) return { kind: 'failed', code: error.code, message: error.message };
  return {
    kind: 'failed',
    code: 'run/failed',
    message:
      'The run stopped because of a fault in Zographos itself, which was logged. Nothing was changed; try other settings.',
    detail: error instanceof Error ? (error.stack ?? error.message) : String(error),
  };
}

async function runOperation<Kind extends OperationKind>(kind: Kind, request: OperationRequest): Promise<OperationDone> {
  const { inputs: given, sets, strokes, earlier, settings, ...rest } = request;
  const { mask, pictures = [], ...inputs } = given;
  const { run } = await operationOf(kind).load();
  const { report, proof, records } = await run({
    ...rest,
    settings: parseSettings<Kind>(kind, settings),
    inputs: await eachInput(inputs, loaded),
    pictures: pictures.map(pictureOf),
    mask: mask ? pictureOf(mask) : null,
    sets: sets.map(unpackedSet),
    strokes: new Map(strokes.map(([name, record]) => [name, strokeOfRecord(record)])),
    earlier: earlier && {
      tiles: earlier.tiles,
      load: (map, tile) =>
        Promise.resolve(earlier.maps.find((each) => each.kind === map && each.tile === tile) ?? null),
    },
    onProgress: (progress) => tell({ kind: 'progress', progress }),
    onCanvas: (canvas) => tell({ kind: 'canvas', canvas }),
    put: (made) => ask({ ask: 'put', made: packed(made) }),
  });
  return { report, ...(proof ? { proof } : {}), ...(records ? { records } : {}) };
}

const loaded = ({ hash, name, packed: bytes }: PackedInput): RunMesh => ({
  hash,
  mesh: { ...unpackMesh(bytes), name },
});

const pictureOf = ({ hash, file, packed: bytes, image, colorSpace, convention }: PackedInput): RunPicture => ({
  ...{ hash, name: file, bytes },
  ...(image ? { image } : {}),
  ...(colorSpace ? { colorSpace } : {}),
  ...(convention ? { convention } : {}),
});

function unpackedSet({ made, ...set }: PackedSet, number: number): RunSet {
  return {
    ...set,
    madeBy: (kind, tile) => made[set.maps.findIndex((map) => map.kind === kind && map.tile === tile)] ?? null,
    load: (kind, tile) => ask<HeldMap>({ ask: 'map', set: number, kind, tile }),
    mesh: () => ask<Uint8Array>({ ask: 'mesh', set: number }),
  };
}

function packed(made: Made): PackedMade {
  if (made.what === 'map') return { ...made, histograms: histograms(made.image, made.states) };
  return made.what === 'mesh' ? { what: 'mesh', mesh: readyMesh(made.mesh) } : made;
}
