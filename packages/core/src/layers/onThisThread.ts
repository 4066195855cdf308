import { blockComposer } from './blockComposer.ts';
import type { DoBlocks } from './composeTile.ts';
import type { LayeredTile } from './layeredSurface.ts';
import type { Stack } from './stack.ts';
import type { BlockPlaces } from './texelBlock.ts';

/**
 * Does all blocks on this thread, one after the other, and lets others be heard now and then.
 * @param known as of `blockComposer`
 */
export function onThisThread(
  tile: LayeredTile,
  mixing: Stack['mixing'],
  pause: () => Promise<void> = () => Promise.resolve(),
  known?: Map<number, BlockPlaces>,
): DoBlocks {
  return async (work, inputs, onShare) => {
    const compose = blockComposer(work, tile, inputs, mixing, known);
    const blocks = tile.plan.columns * tile.plan.rows;
    for (let block = 0; block < blocks; block++) {
      compose(block);
      if (block % PAUSE_BLOCKS === PAUSE_BLOCKS - 1) {
        onShare(block / blocks);
        await pause();
      }
    }
  };
}

const PAUSE_BLOCKS = 64;
