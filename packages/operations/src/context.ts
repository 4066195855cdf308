import type { Image, MapKind } from '@zographos/core/image';
import type { LikenessView, SeamError } from '@zographos/core/measure';
import type { MaterialPicture } from '@zographos/core/mesh';
import { ZographosError } from '@zographos/core/errors';
import type { OperationInputs } from './operation.ts';
import type { RunReport, Stage } from './report.ts';
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

/** What a run is given by whoever starts it. */
export interface RunContext<Settings> {
  settings: Settings;
  inputs: Omit<OperationInputs<RunMesh>, 'mask' | 'pictures'>;
  /** Pictures that lie on the sources: image files as they came, each with what names it. */
  pictures?: (MaterialPicture & { hash: string })[];
  /** The picture that says where rays follow the receiver's own normals, where the inputs have one. */
  mask?: Image | null;
  /** What that picture is named by. */
  maskHash?: string | null;
  /** Tracing threads to use. */
  threads: number;
  /** Refuse runs that are estimated to need more. */
  memoryLimitBytes: number;
  /** Shared; set to one of `RUN_FLAG` by anybody. */
  cancelFlag: Int32Array;
  /** Seconds it took to load the inputs, for the report. */
  loadSeconds: number;
  onProgress: (progress: Progress) => void;
  /** An earlier bake of the same ticket, of which what has not changed is taken over. */
  earlier?: EarlierBake | null;
  /** The one rectangle to bake; outside it `earlier` stays. */
  region?: Region | null;
  /** Told when there is a picture to look at while it fills: again for each tile. */
  onCanvas?: (canvas: Canvas) => void;
}

/** What a run may use, and whom it tells; the same for several runs that make up one piece of work. */
export type RunResources = Pick<RunContext<unknown>, 'threads' | 'memoryLimitBytes' | 'cancelFlag' | 'onProgress'>;

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

export interface RunResult {
  maps: { kind: MapKind; tile: number; image: Image; states: Uint8Array }[];
  proof: ProofDetails;
  /** What the next bake can take over; empty where a bake cannot be divided. */
  records: TileRecord[];
  /** `seconds.encode` is 0 and `total` counts up to here; whoever encodes adds its share. */
  report: RunReport;
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
