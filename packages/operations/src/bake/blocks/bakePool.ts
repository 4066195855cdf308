import { addStatistics, emptyStatistics, type BakeCounts, type BakeWork } from '@zographos/core/bake';
import type { PlacedReceiver } from '@zographos/core/trace';
import type { PlainTree, SceneTree } from '../../scene/sceneTree.ts';
import { BlockPool, type BlockShare } from '../../threads/blockPool.ts';

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
}
export type BakeShare = BakeJob & BlockShare;

/** A set of warm threads that bake blocks of one job together. */
export class BakePool {
  private readonly pool = new BlockPool<BakeJob, BakeCounts>('./bakeThread', import.meta.url);

  /** Starts threads that a bake is going to need: they come up while what they trace is still being prepared. */
  warmUp(threads: number): void {
    this.pool.warmUp(threads);
  }

  /**
   * Bakes all blocks of a job.
   * @param onTick told the share of blocks done, 0 to 1, a few times a second
   * @throws run/cancelled; or whatever made a thread fail
   */
  async bake(
    job: BakeJob,
    threads: number,
    cancelFlag: Int32Array,
    onTick: (share: number) => void,
  ): Promise<BakeCounts> {
    const { columns, rows } = job.work.plan;
    const parts = await this.pool.run(job, columns * rows, threads, cancelFlag, onTick);
    const counts: BakeCounts = { sum: emptyStatistics(), blocks: [] };
    for (const { sum, blocks } of parts) {
      addStatistics(counts.sum, sum);
      counts.blocks.push(...blocks);
    }
    return counts;
  }

  close(): Promise<void> {
    return this.pool.close();
  }
}
