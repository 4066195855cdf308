import { blockComposer } from './blockComposer.ts';
import type { DoBlocks } from './composeTile.ts';
import type { LayeredTile } from '../surface/layeredSurface.ts';
import type { Stack } from '../stack.ts';
import type { BlockPlaces, PickTexels } from '../surface/texelBlock.ts';

/** Some blocks of a tile, by their numbers; of them all texels, or those that are picked. */
export interface SomeTexels {
  blocks: readonly number[];
  pick?: PickTexels;
}

/**
 * Does all blocks on this thread, one after the other, and lets others be heard now and then.
 * @param known as of `blockComposer`
 * @param only what is done of the tile; all of it if left out
 */
export function onThisThread(
  tile: LayeredTile,
  mixing: Stack['mixing'],
  pause: () => Promise<void> = () => Promise.resolve(),
  known?: Map<number, BlockPlaces>,
  only?: SomeTexels,
): DoBlocks {
  return async (work, inputs, onShare) => {
    const compose = blockComposer(work, tile, inputs, mixing, known, only?.pick);
    const blocks = only?.blocks.length ?? tile.plan.columns * tile.plan.rows;
    let since = Date.now();
    for (let i = 0; i < blocks; i++) {
      compose(only ? only.blocks[i]! : i);
      if (Date.now() - since < PAUSE_MS) continue;
      onShare(i / blocks);
      await pause();
      since = Date.now();
    }
  };
}

/** How long others may have to wait. */
const PAUSE_MS = 12;
