import type { Image, MapKind, Mesh } from '@zographos/core';
import { ZographosError } from '@zographos/core';
import type { OperationInputs } from '../operation.ts';
import type { RunReport, Stage } from '../report.ts';

export interface Progress {
  stage: Stage;
  /** Share of the whole run, 0 to 1. */
  share: number;
  secondsLeft: number | null;
}

/** An input mesh with the hash of its content, which names it in caches. */
export interface RunMesh {
  hash: string;
  mesh: Mesh;
}

/** What a run is given by whoever starts it. */
export interface RunContext<Settings> {
  settings: Settings;
  inputs: OperationInputs<RunMesh>;
  /** Tracing threads to use. */
  threads: number;
  /** Refuse runs that are estimated to need more. */
  memoryLimitBytes: number;
  /** Shared; set to 1 by anybody to stop the run. */
  cancelFlag: Int32Array;
  /** Seconds it took to load the inputs, for the report. */
  loadSeconds: number;
  onProgress: (progress: Progress) => void;
  /** Told once when there is a picture to look at while it fills. */
  onCanvas?: (image: Image) => void;
}

export interface RunResult {
  maps: { kind: MapKind; image: Image; states: Uint8Array }[];
  /** `seconds.encode` is 0 and `total` counts up to here; whoever encodes adds its share. */
  report: RunReport;
}

/** @throws run/cancelled once the flag is set */
export function throwIfCancelled(cancelFlag: Int32Array): void {
  if (Atomics.load(cancelFlag, 0) !== 0) {
    throw new ZographosError('run/cancelled', 'The run was cancelled. Nothing was changed; run it again at any time.');
  }
}
