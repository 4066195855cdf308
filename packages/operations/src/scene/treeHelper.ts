import os from 'node:os';
import type { Worker } from 'node:worker_threads';
import { sharedInt32 } from '@zographos/core/shared-arrays';
import type { KernelMemory } from '@zographos/core/kernel';
import type { BuildHelper, SubtreeJob } from '@zographos/core/trace';
import { startThread } from '../threads/startThread.ts';

/** Parts of a tree to build, and where to say what came of them: whether it is done, then the references. */
export interface TreeJob {
  memory: KernelMemory;
  jobs: SubtreeJob[];
  control: Int32Array;
}

/** What the first control word says. */
export const TREE = { done: 1, failed: 2 } as const;

/** A thread that has said nothing for so long is given up, and its share built here. */
const PATIENCE_MS = 60_000;

let thread: Worker | null = null;

/** One more thread to build trees with, kept warm; it does not keep the process from ending. */
const onAnotherThread: BuildHelper = (memory, jobs) => {
  const control = sharedInt32(1 + jobs.length);
  thread ??= startThread('./treeThread', import.meta.url);
  thread.unref();
  thread.postMessage({ memory, jobs: [...jobs], control } satisfies TreeJob);
  return () => {
    if (Atomics.load(control, 0) === 0) Atomics.wait(control, 0, 0, PATIENCE_MS);
    if (Atomics.load(control, 0) === TREE.done) return control.subarray(1);
    void thread?.terminate();
    thread = null;
    return null;
  };
};

export const treeHelper: BuildHelper | null = os.availableParallelism() > 1 ? onAnotherThread : null;
