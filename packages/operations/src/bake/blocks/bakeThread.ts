import { parentPort } from 'node:worker_threads';
import { BlockBaker, sampleCapacity, type Tracers } from '@zographos/core/bake';
import { NearestPlace } from '@zographos/core/trace';
import type { BakeShare, BakeTrees } from './bakePool.ts';
import { samplesOn, tracersOn } from '../../scene/sceneTree.ts';
import { doBlocks } from '../../threads/blockPool.ts';

parentPort!.on('message', (share: BakeShare) => {
  const { work, trees, thread } = share;
  const baker = new BlockBaker(work, tracersFor(trees, thread, sampleCapacity(work.settings.samplesPerAxis)));
  doBlocks(share, (block) => baker.bake(block));
  parentPort!.postMessage(baker.counts);
});

function tracersFor(
  { projection, occluders, nearest, receiver }: BakeTrees,
  thread: number,
  capacity: number,
): Tracers {
  return {
    samples: receiver && samplesOn(projection, thread, receiver, capacity),
    groups: tracersOn(projection, thread),
    occluders: occluders && tracersOn(occluders, thread)[0]!,
    nearest: nearest.map(({ bvh, from }) => new NearestPlace(bvh, from)),
  };
}
