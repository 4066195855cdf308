import type { Worker } from 'node:worker_threads';
import { addStatistics, emptyStatistics, type BakeCounts, type BakeWork } from '@zographos/core/bake';
import { sharedInt32 } from '@zographos/core/shared-arrays';
import type { PlacedReceiver } from '@zographos/core/trace';
import { askThread } from '../../threads/askThread.ts';
import { RUN_FLAG, throwIfCancelled } from '../../runContext.ts';
import type { PlainTree, SceneTree } from '../../scene/sceneTree.ts';
import { startThread } from '../../threads/startThread.ts';

/** The trees of a bake: of what is projected, one for each group; of what occludes, if that is something else. */
export interface BakeTrees {
  projection: SceneTree;
  occluders: SceneTree | null;
  /** Where the bake goes by the nearest place. */
  nearest: PlainTree[];
  /** Where the receiver lies, if the kernel is to aim its rays. */
  receiver: PlacedReceiver | null;
}

/** Everything a thread needs to take part; all arrays are shared memory. */
export interface BakeJob {
  work: BakeWork;
  trees: BakeTrees;
  control: Int32Array;
  /** The thread's number, from 1. */
  thread: number;
}

/** Places in a job's control words: the next block to take, blocks done, and whether to stop. */
export const CONTROL = { next: 0, done: 1, cancel: 2 } as const;

const TICK_MS = 50;

/**
 * A set of warm threads that bake blocks of one job together. Threads take blocks as they become free; since
 * each block depends on nothing but the job, the result is the same for any number of them.
 */
export class BakePool {
  private threads: Worker[] = [];

  /** Starts threads that a bake is going to need: they come up while what they trace is still being prepared. */
  warmUp(threads: number): void {
    while (this.threads.length < threads) {
      const thread = startThread('./bakeThread', import.meta.url);
      // A process whose bake was refused before it began need not wait for them.
      thread.unref();
      // One that is lost while nobody waits for it is replaced by the next bake.
      thread.on('error', () => {});
      thread.once('exit', () => (this.threads = this.threads.filter((each) => each !== thread)));
      this.threads.push(thread);
    }
  }

  /**
   * Bakes all blocks of a job.
   * @param onTick told the share of blocks done, 0 to 1, a few times a second
   * @throws run/cancelled; or whatever made a thread fail
   */
  async bake(
    job: Omit<BakeJob, 'control' | 'thread'>,
    threads: number,
    cancelFlag: Int32Array,
    onTick: (share: number) => void,
  ): Promise<BakeCounts> {
    const control = sharedInt32(3);
    const blocks = job.work.plan.columns * job.work.plan.rows;
    this.warmUp(threads);
    const timer = setInterval(() => {
      Atomics.store(control, CONTROL.cancel, Atomics.load(cancelFlag, 0) === RUN_FLAG.cancel ? 1 : 0);
      onTick(Atomics.load(control, CONTROL.done) / blocks);
    }, TICK_MS);
    onTick(0);
    try {
      const parts = await Promise.all(
        this.threads
          .slice(0, threads)
          .map((thread, i) =>
            askThread(thread, { ...job, control, thread: i + 1 } satisfies BakeJob, (counts: BakeCounts) => counts),
          ),
      );
      throwIfCancelled(cancelFlag);
      const counts: BakeCounts = { sum: emptyStatistics(), blocks: [] };
      for (const { sum, blocks } of parts) {
        addStatistics(counts.sum, sum);
        counts.blocks.push(...blocks);
      }
      return counts;
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
