import os from 'node:os';
import { closeBakePool, memoryLimitBytes } from '@zographos/operations/run';

/** What every run of the command line is given. */
export const runContext = (threads?: number) => ({
  threads: threads ?? os.availableParallelism(),
  memoryLimitBytes: memoryLimitBytes(),
  cancelFlag: new Int32Array(1),
  onProgress: () => {},
});

/** Does something with threads, and ends them whatever comes of it. */
export async function withThreads<Result>(work: () => Promise<Result>): Promise<Result> {
  try {
    return await work();
  } finally {
    await closeBakePool();
  }
}
