import type { Worker } from 'node:worker_threads';
import { sharedInt32 } from '@zographos/core/shared-arrays';
import { RUN_FLAG, throwIfCancelled } from '../runContext.ts';
import { askThread } from './askThread.ts';
import { startThread } from './startThread.ts';

/** What every thread of a pool is told beside its job. */
export interface BlockShare {
  /** The next block to take, blocks done, and whether to stop. */
  control: Int32Array;
  blocks: number;
  /** The thread's number, from 1. */
  thread: number;
}

const CONTROL = { next: 0, done: 1, cancel: 2 } as const;
const TICK_MS = 50;

/**
 * A set of warm threads that do the blocks of one job together. Threads take blocks as they become free; where each
 * depends on nothing but the job, the result is the same for any number of them.
 */
export class BlockPool<Job extends object, Answer> {
  private threads: Worker[] = [];
  private readonly module: string;
  private readonly callerUrl: string;

  /** @param module of the threads, as of `startThread`, which calls `doBlocks` for each message */
  constructor(module: string, callerUrl: string) {
    this.module = module;
    this.callerUrl = callerUrl;
  }

  /** Starts threads that are going to be needed: they come up while what they work on is still being prepared. */
  warmUp(threads: number): void {
    while (this.threads.length < threads) {
      const thread = startThread(this.module, this.callerUrl);
      // A process whose run was refused before it began need not wait for them.
      thread.unref();
      // One that is lost while nobody waits for it is replaced by the next run.
      thread.on('error', () => {});
      thread.once('exit', () => (this.threads = this.threads.filter((each) => each !== thread)));
      this.threads.push(thread);
    }
  }

  /**
   * Does all blocks of a job.
   * @param onTick told the share of blocks done, 0 to 1, a few times a second
   * @throws run/cancelled; or whatever made a thread fail
   */
  async run(
    job: Job,
    blocks: number,
    threads: number,
    cancelFlag: Int32Array,
    onTick: (share: number) => void,
  ): Promise<Answer[]> {
    const control = sharedInt32(3);
    this.warmUp(threads);
    const timer = setInterval(() => {
      Atomics.store(control, CONTROL.cancel, Atomics.load(cancelFlag, 0) === RUN_FLAG.cancel ? 1 : 0);
      onTick(Atomics.load(control, CONTROL.done) / blocks);
    }, TICK_MS);
    onTick(0);
    try {
      const answers = await Promise.all(
        this.threads
          .slice(0, threads)
          .map((thread, i) =>
            askThread(thread, { ...job, control, blocks, thread: i + 1 }, (answer: Answer) => answer),
          ),
      );
      throwIfCancelled(cancelFlag);
      return answers;
    } catch (error) {
      await this.close();
      throw error;
    } finally {
      clearInterval(timer);
    }
  }

  async close(): Promise<void> {
    const threads = this.threads;
    this.threads = [];
    await Promise.all(threads.map((thread) => thread.terminate()));
  }
}

/** Takes blocks of a job until there are none, or it is to stop. */
export function doBlocks({ control, blocks }: BlockShare, work: (block: number) => void): void {
  for (;;) {
    const block = Atomics.add(control, CONTROL.next, 1);
    if (block >= blocks || Atomics.load(control, CONTROL.cancel) !== 0) return;
    work(block);
    Atomics.add(control, CONTROL.done, 1);
  }
}
