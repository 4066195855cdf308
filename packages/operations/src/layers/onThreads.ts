import { setImmediate, setTimeout } from 'node:timers/promises';
import { blockComposer, type DoBlocks, type LayeredTile, type Stack } from '@zographos/core/layers';
import { sharedInt32 } from '@zographos/core/shared-arrays';
import type { ThreadTeam } from '../threads/threadTeam.ts';
import type { ComposeJob } from './composeThread.ts';

const TICK_MS = 100;

/** Does the blocks of a tile on all threads of a team, and on this one until they have come up. */
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
    const job: ComposeJob = { work, tile, inputs, mixing, taken };
    try {
      const there = Array.from({ length: threads }, () => team.do(job));
      await Promise.all([...there, team.isStarting() ? untilTaken(job, team) : null]);
    } finally {
      clearInterval(timer);
    }
  };
}

/**
 * Does blocks on this thread as long as no other has taken one: a thread needs longer to start than many a stack to be
 * composed.
 */
async function untilTaken(
  { work, tile, inputs, mixing, taken }: ComposeJob,
  team: ThreadTeam<ComposeJob, null>,
): Promise<void> {
  // Threads that came up while this one was busy are heard now; an immediate would come before what they say.
  await setTimeout(1);
  if (!team.isStarting()) return;
  const blocks = tile.plan.columns * tile.plan.rows;
  const compose = blockComposer(work, tile, inputs, mixing);
  for (let own = 0; own < blocks && team.isStarting(); own++) {
    const block = Atomics.add(taken, 0, 1);
    if (block >= blocks) return;
    compose(block);
    if (block !== own) return;
    await setImmediate();
  }
}
