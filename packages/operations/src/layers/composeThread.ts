import { KernelTeam, useKernelTeam } from '@zographos/core/kernel';
import { blockComposer, type BlockWork, type LayeredTile, type LayerInputs, type Stack } from '@zographos/core/layers';
import { hasKernel, newKernel } from '../kernel/loadKernel.ts';
import { answerJobs } from '../threads/teamThread.ts';

/** Some work on the blocks of a tile, which threads take as they become free; all arrays are shared memory. */
export interface ComposeJob {
  work: BlockWork;
  tile: LayeredTile;
  inputs: LayerInputs;
  mixing: Stack['mixing'];
  /** How many blocks have been taken. */
  taken: Int32Array;
}

// Each thread has a kernel of its own, for fields and adjustments.
if (hasKernel()) useKernelTeam(new KernelTeam(newKernel(), 1));

answerJobs(({ work, tile, inputs, mixing, taken }: ComposeJob): null => {
  const compose = blockComposer(work, tile, inputs, mixing);
  const blocks = tile.plan.columns * tile.plan.rows;
  for (;;) {
    const block = Atomics.add(taken, 0, 1);
    if (block >= blocks) return null;
    compose(block);
  }
});
