import { parentPort } from 'node:worker_threads';
import { LightBaker } from '@zographos/core/light';
import { attachKernel } from '../../kernel/loadKernel.ts';
import { doBlocks } from '../../threads/blockPool.ts';
import type { LightAnswer, LightShare } from './lightTile.ts';

parentPort!.on('message', (share: LightShare) => {
  const { work, tree, thread, from, to } = share;
  const baker = new LightBaker(work, tree, attachKernel(tree.memory), thread);
  doBlocks(share, (block) => baker.bake(block, from, to));
  parentPort!.postMessage({ cast: baker.cast, overlapping: baker.overlapping } satisfies LightAnswer);
});
