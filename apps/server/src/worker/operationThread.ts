import { parentPort } from 'node:worker_threads';
import { composeSheet, composeStates, fitToPlace, moveToPlace } from '@zographos/core/atlas';
import type { Size } from '@zographos/core/math';
import { ZographosError, type ErrorCode } from '@zographos/core/errors';
import {
  histograms,
  resample,
  sharedImage,
  TexelState,
  type ChannelHistogram,
  type Image,
  type MapKind,
} from '@zographos/core/image';
import { joinMeshes, PLAIN_MATERIAL, uvSetFirst } from '@zographos/core/mesh';
import { sharedUint8 } from '@zographos/core/shared-arrays';
import { FIRST_TILE } from '@zographos/core/uv';
import { limitsFrom, readImageFile } from '@zographos/formats/images';
import { unpackMesh } from '@zographos/formats/packed-mesh';
import {
  eachInput,
  gutterOf,
  parseSettings,
  sheetPlaces,
  type FlatKind,
  type FlatReport,
  type LayoutReport,
  type MergeReport,
  type OperationInputs,
  type OperationKind,
  type RunReport,
} from '@zographos/operations';
import {
  asMeantBy,
  bakeTicket,
  costOf,
  costOfMerge,
  makeFlat,
  meaningsOf,
  measureFlat,
  onOneLayout,
  RUN_FLAG,
  runLayout,
  withOneMaterial,
  type Canvas,
  type FlatWork,
  type LayoutProgress,
  type Progress,
  type ProofDetails,
  type Region,
  type RunMesh,
  type TileRecord,
} from '@zographos/operations/run';

import { readyMesh, type ReadyMesh } from '../meshes/readyMesh.ts';
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
  /** The part of a sheet that is made. */
  sheet?: SheetPart;
}

/** A map of a set with what became of its texels. */
export interface SheetMap {
  image: Image;
  states: Uint8Array;
}

export type SheetPart =
  /** The mesh, of the inputs: the set that each receiver lies on, and the UV set it is. */
  | { step: 'mesh'; receivers: { set: number; uvSet: number }[] }
  /** One map, of those of the sets. */
  | { step: 'map'; kind: MapKind; maps: (SheetMap | null)[] };

/** A mesh on its way to the operation, under the name it has in the project. */
export interface PackedInput {
  hash: string;
  name: string;
  /** The name of the file that it came in. */
  file: string;
  packed: Uint8Array;
  /** Of a map: what it holds, in shared memory, instead of bytes. */
  image?: Image;
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
  | { operation: 'layout'; meshes: ReadyMesh[]; report: LayoutReport }
  | { operation: 'merge'; meshes: ReadyMesh[]; report: MergeReport }
  | { operation: FlatKind; maps: MadeMap[]; report: FlatReport }
  | { operation: 'sheet'; mesh: ReadyMesh }
  | { operation: 'sheet'; map: MadeMap };

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
  tell({ kind: 'done', done: await OPERATE[request.operation as OnThread](request) });
}

/** A delivery is made file by file by the worker itself. */
type OnThread = Exclude<OperationKind, 'deliver'>;

const OPERATE: Record<OnThread, (request: OperationRequest) => OperationDone | Promise<OperationDone>> = {
  bake,
  layout: layOutMeshes,
  merge,
  sheet: partOfSheet,
  seamless: (request) =>
    flat(request, { operation: 'seamless', settings: parseSettings('seamless', request.settings) }),
  derive: (request) => flat(request, { operation: 'derive', settings: parseSettings('derive', request.settings) }),
  field: (request) => flat(request, { operation: 'field', settings: parseSettings('field', request.settings) }),
};

const loaded = ({ hash, name, packed }: PackedInput): RunMesh => ({ hash, mesh: { ...unpackMesh(packed), name } });
const onProgress = (progress: Progress): void => tell({ kind: 'progress', progress });

async function bake({ settings, inputs: given, earlier, ...rest }: OperationRequest): Promise<OperationDone> {
  const { mask, pictures = [], ...inputs } = given;
  const { maps, proof, records, report } = await bakeTicket({
    ...rest,
    pictures: pictures.map(({ hash, file, packed }) => ({ hash, name: file, bytes: packed })),
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

/** Makes flat maps of pictures, and measures them. */
async function flat(
  { inputs: { pictures = [] }, ...request }: OperationRequest,
  work: FlatWork,
): Promise<OperationDone> {
  const since = performance.now();
  const limits = limitsFrom(process.env);
  const meanings = meaningsOf(work);
  const images: Image[] = [];
  for (const [i, { file, packed, image }] of pictures.entries()) {
    images.push(image ?? asMeantBy(meanings[i]!, await readImageFile(file, packed, limits)));
  }
  const made = await makeFlat(work, images, { ...request, onProgress });
  const maps = made.map(({ kind, image }): MadeMap => {
    const shared = sharedImage(image);
    // Flat material fills its tile: every texel counts.
    const states = sharedUint8(image.width * image.height).fill(TexelState.covered);
    return { kind, tile: FIRST_TILE, image: shared, states, histograms: histograms(shared) };
  });
  return { operation: work.operation, maps, report: measureFlat(made, (performance.now() - since) / 1000) };
}

/** How often it is looked whether a layout is to stop: its own thread does not hear while it cuts. */
const CANCEL_MS = 100;

/** Work that hears of being stopped by a signal. */
async function cancellable<T>(cancelFlag: Int32Array, work: (cancel: AbortSignal) => Promise<T>): Promise<T> {
  const cancel = new AbortController();
  const watch = setInterval(() => {
    if (Atomics.load(cancelFlag, 0) === RUN_FLAG.cancel) cancel.abort();
  }, CANCEL_MS);
  try {
    return await work(cancel.signal);
  } finally {
    clearInterval(watch);
  }
}

const onLayout = ({ stage, share, coverage }: LayoutProgress): void =>
  onProgress({
    stage,
    share: stage === 'cut' ? share * 0.5 : 0.5 + share * 0.5,
    secondsLeft: null,
    note: coverage === null ? null : `${Math.round(coverage * 100)} % covered so far`,
  });

async function layOutMeshes({ settings, inputs, cancelFlag }: OperationRequest): Promise<OperationDone> {
  const since = performance.now();
  const meshes = inputs.receivers.map((input) => loaded(input).mesh);
  const { coverage, scale, islands, ...laidOut } = await cancellable(cancelFlag, (cancel) =>
    runLayout(meshes, parseSettings('layout', settings), onLayout, cancel, cancelFlag),
  );
  const seconds = (performance.now() - since) / 1000;
  return { operation: 'layout', meshes: laidOut.meshes.map(readyMesh), report: { coverage, scale, islands, seconds } };
}

async function merge({ settings: given, inputs, cancelFlag }: OperationRequest): Promise<OperationDone> {
  const since = performance.now();
  const settings = parseSettings('merge', given);
  const objects = inputs.receivers.map((input) => loaded(input).mesh);
  const laidOut = await cancellable(cancelFlag, (cancel) =>
    onOneLayout(objects, settings, onLayout, cancel, cancelFlag),
  );
  const merged = withOneMaterial(laidOut, settings, { material: PLAIN_MATERIAL, pictures: [] });
  const seconds = (performance.now() - since) / 1000;
  const report = { before: await costOf(objects), after: costOfMerge(objects.length, settings), seconds };
  return { operation: 'merge', meshes: merged.map(readyMesh), report };
}

function partOfSheet({ settings: given, inputs, sheet }: OperationRequest): OperationDone {
  const settings = parseSettings('sheet', given);
  const places = sheetPlaces(settings);
  if (sheet!.step === 'mesh') {
    const { receivers } = sheet!;
    const moved = inputs.receivers.map((input, i) => {
      const { set, uvSet } = receivers[i]!;
      const { mesh } = loaded(input);
      return moveToPlace(uvSetFirst(mesh, uvSet), 0, places[set]!, settings.size);
    });
    return { operation: 'sheet', mesh: readyMesh(joinMeshes(settings.name, moved)) };
  }
  const { kind, maps } = sheet!;
  const { size } = settings;
  const gutter = gutterOf(settings);
  const images = maps.map((map, i) => map && (settings.resample ? fitToPlace(kind, map.image, places[i]!) : map.image));
  const composed = composeSheet(kind, images, places, size, gutter);
  const first = maps.find((map) => map !== null)?.image;
  const image = sharedImage({
    ...composed,
    ...(first?.range ? { range: first.range } : {}),
    ...(first?.colorSpace ? { colorSpace: first.colorSpace } : {}),
  });
  const states = composeStates(
    maps.map((map, i) => map && statesAt(map, places[i]!)),
    places,
    size,
    gutter,
  );
  return { operation: 'sheet', map: { kind, tile: FIRST_TILE, image, states, histograms: histograms(image, states) } };
}

/** What became of texels, at the size of their place. */
function statesAt({ image: { width, height }, states }: SheetMap, place: Size): Uint8Array {
  if (width === place.width && height === place.height) return states;
  const plane = { width, height, channels: 1, data: Float32Array.from(states) };
  return Uint8Array.from(resample(plane, place, 'nearest').data);
}
