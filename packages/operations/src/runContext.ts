import type { ChannelHistogram, Image, ImageMeaning, MapKind } from '@zographos/core/image';
import type { Stroke } from '@zographos/core/layers';
import type { LikenessView, SeamError } from '@zographos/core/measure';
import type { Mesh } from '@zographos/core/mesh';
import { ZographosError } from '@zographos/core/errors';
import type { SetFacts } from './deliver/planDelivery.ts';
import type { Stage } from './stages.ts';
import type { RunMesh } from './scene/runMesh.ts';
import type { EarlierBake, Region, TileRecord } from './bake/blocks/reuse.ts';

export interface Progress {
  stage: Stage;
  /** Share of the whole run, 0 to 1. */
  share: number;
  secondsLeft: number | null;
  /** What there is to tell beside the share that is done. */
  note?: string | null;
}

/** A picture that goes into a run: an image file as it came, or a map as it is held. */
export interface RunPicture extends Pick<ImageMeaning, 'colorSpace' | 'convention'> {
  /** Stands for its content. */
  hash: string;
  name: string;
  bytes: Uint8Array;
  /** Of a map: what it holds, in place of bytes. */
  image?: Image;
}

/** A map that is held, with what became of its texels. */
export interface HeldMap {
  image: Image;
  states: Uint8Array;
}

/** An image set that goes into a run; its maps are loaded one by one, as they are needed. */
export interface RunSet extends SetFacts {
  /** Of a repeating tile in the world, in millimetres. */
  tileWidth: number | null;
  /** The UV set of its meshes that its maps lie on. */
  uvSet: number;
  /** Which of the run's receivers lie on it, by their numbers. */
  receivers: readonly number[];
  /** What made a map, as a sentence. */
  madeBy(kind: MapKind, tile: number): string | null;
  load(kind: MapKind, tile: number): Promise<HeldMap>;
  /** The mesh that wears the maps, as GLB. @throws input/other-layout when the maps do not fit it */
  mesh(): Promise<Uint8Array>;
}

/** Something that a run has made. */
export type Made =
  | ({ what: 'map'; kind: MapKind; tile: number } & HeldMap)
  | { what: 'mesh'; mesh: Mesh }
  | { what: 'file'; path: string; bytes: Uint8Array };

/** What a run may use, and whom it tells; the same for several runs that make up one piece of work. */
export interface RunResources {
  /** Threads to use. */
  threads: number;
  /** Refuse runs that are estimated to need more. */
  memoryLimitBytes: number;
  /** Shared; set to one of `RUN_FLAG` by anybody. */
  cancelFlag: Int32Array;
  onProgress: (progress: Progress) => void;
}

/** What a run is given by whoever starts it: the server, the command line, a test. */
export interface RunContext<Settings> extends RunResources {
  settings: Settings;
  /** Meshes. */
  inputs: { receivers: RunMesh[]; sources: RunMesh[]; cage?: RunMesh | undefined };
  pictures?: RunPicture[];
  /** What was painted by hand, by names. */
  strokes?: ReadonlyMap<string, Stroke>;
  /** The picture that says where rays follow the receiver's own normals. */
  mask?: RunPicture | null;
  /** Image sets, by the newest of their maps. */
  sets?: RunSet[];
  /** The name of the project, where files are named after it. */
  project?: string;
  /** Seconds it took to load the inputs, for the report. */
  loadSeconds?: number;
  /** An earlier bake of the same ticket, of which what has not changed is taken over. */
  earlier?: EarlierBake | null;
  /** The one rectangle to bake; outside it `earlier` stays. */
  region?: Region | null;
  /** Told when there is a picture to look at while it fills: again for each tile. */
  onCanvas?: (canvas: Canvas) => void;
  /** Takes each thing as soon as it is made, so that memory need not hold them all. */
  put: (made: Made) => Promise<void>;
}

/** What a run has to say in the end; what it made was put before. */
export interface RunOutcome<Report> {
  report: Report;
  /** Of a bake: what shows how good it is, and what the next one can take over. */
  proof?: ProofDetails;
  records?: TileRecord[];
}

export type Run<Settings, Report> = (context: RunContext<Settings>) => Promise<RunOutcome<Report>>;

/** A map as it fills, and the coarse picture that is shown where it has not yet been filled. */
export interface Canvas {
  image: Image;
  states: Uint8Array;
  draft: Canvas | null;
}

/** What shows how good a result is, beside the figures of the report. */
export interface ProofDetails {
  /** Where both sides of seams differ, by map. */
  seams: Record<string, SeamError>;
  /** The source and the receiver with its normal map, side by side. */
  likeness: LikenessView[];
}

/** A map as a run makes it, with the counts that are kept with it. */
export interface MadeMap extends HeldMap {
  kind: MapKind;
  tile: number;
  histograms: ChannelHistogram[];
}

/** What a run is asked while it goes on: to stop, or to be content with the best so far. */
export const RUN_FLAG = { cancel: 1, enough: 2 } as const;

/** @throws run/cancelled once the flag is set */
export function throwIfCancelled(cancelFlag: Int32Array): void {
  const error = errorIfCancelled(cancelFlag);
  if (error) throw error;
}

export function errorIfCancelled(cancelFlag: Int32Array): ZographosError | null {
  if (Atomics.load(cancelFlag, 0) !== RUN_FLAG.cancel) return null;
  return new ZographosError('run/cancelled', 'The run was cancelled. Nothing was changed; run it again at any time.');
}

/** How often it is looked whether a run is to stop, where a thread does not hear while it computes. */
const CANCEL_MS = 100;

/** Does work that hears of being stopped by a signal. */
export async function withSignal<T>(cancelFlag: Int32Array, work: (cancel: AbortSignal) => Promise<T>): Promise<T> {
  const cancel = new AbortController();
  const watch = setInterval(() => {
    if (errorIfCancelled(cancelFlag)) cancel.abort();
  }, CANCEL_MS);
  try {
    return await work(cancel.signal);
  } finally {
    clearInterval(watch);
  }
}

/** Seconds since a moment of `performance.now()`. */
export const secondsSince = (since: number): number => (performance.now() - since) / 1000;
