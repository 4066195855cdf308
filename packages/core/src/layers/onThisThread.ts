import { blockComposer } from './blockComposer.ts';
import type { DoBlocks } from './composeTile.ts';
import type { LayeredTile } from './layeredSurface.ts';
import type { Stack } from './stack.ts';
import type { BlockPlaces } from './texelBlock.ts';

/**
 * Does all blocks on this thread, one after the other, and lets others be heard now and then.
 * @param known as of `blockComposer`
 * @param only the numbers of the blocks that are done; all if left out
 */
export function onThisThread(
  tile: LayeredTile,
  mixing: Stack['mixing'],
  pause: () => Promise<void> = () => Promise.resolve(),
  known?: Map<number, BlockPlaces>,
  only?: readonly number[],
): DoBlocks {
  return async (work, inputs, onShare) => {
    const compose = blockComposer(work, tile, inputs, mixing, known);
    const blocks = only?.length ?? tile.plan.columns * tile.plan.rows;
    for (let i = 0; i < blocks; i++) {
      compose(only ? only[i]! : i);
      if (i % PAUSE_BLOCKS === PAUSE_BLOCKS - 1) {
        onShare(i / blocks);
        await pause();
      }
    }
  };
}

const PAUSE_BLOCKS = 64;
