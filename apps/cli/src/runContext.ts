import os from 'node:os';
import { closeBakePool } from '@zographos/operations/bake';
import { closeLightPool } from '@zographos/operations/light';
import { memoryLimitBytes } from '@zographos/operations/machine-memory';

/** What every run of the command line is given. */
export const runContext = (threads?: number) => ({
  threads: threads ?? os.availableParallelism(),
  memoryLimitBytes: memoryLimitBytes(),
  cancelFlag: new Int32Array(new SharedArrayBuffer(4)),
  onProgress: () => {},
});

/** Does something with threads, and ends them whatever comes of it. */
export async function withThreads<Result>(work: () => Promise<Result>): Promise<Result> {
  try {
    return await work();
  } finally {
    await Promise.all([closeBakePool(), closeLightPool()]);
  }
}
