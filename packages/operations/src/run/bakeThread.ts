import { parentPort } from 'node:worker_threads';
import { BlockBaker } from '@zographos/core';
import { CONTROL, type BakeJob } from './bakePool.ts';
import { tracerOn } from './sceneTree.ts';

parentPort!.on('message', ({ work, tree, thread, control }: BakeJob) => {
  const baker = new BlockBaker(work, tracerOn(tree, thread));
  const blocks = work.plan.columns * work.plan.rows;
  for (;;) {
    const block = Atomics.add(control, CONTROL.next, 1);
    if (block >= blocks || Atomics.load(control, CONTROL.cancel) !== 0) break;
    baker.bake(block);
    Atomics.add(control, CONTROL.done, 1);
  }
  parentPort!.postMessage(baker.statistics);
});
