import type { DoBlocks, LayeredTile, Stack } from '@zographos/core/layers';
import { sharedInt32 } from '@zographos/core/shared-arrays';
import type { ThreadTeam } from '../threads/threadTeam.ts';
import type { ComposeJob } from './composeThread.ts';

const TICK_MS = 100;

/** Does the blocks of a tile on all threads of a team. */
export function onThreads(
  team: ThreadTeam<ComposeJob, null>,
  threads: number,
  tile: LayeredTile,
  mixing: Stack['mixing'],
): DoBlocks {
  const blocks = tile.plan.columns * tile.plan.rows;
  return async (work, inputs, onShare) => {
    const taken = sharedInt32(1);
    const timer = setInterval(() => onShare(Math.min(1, Atomics.load(taken, 0) / blocks)), TICK_MS);
    try {
      await Promise.all(Array.from({ length: threads }, () => team.do({ work, tile, inputs, mixing, taken })));
    } finally {
      clearInterval(timer);
    }
  };
}
