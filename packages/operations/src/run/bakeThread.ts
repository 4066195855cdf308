import { parentPort } from 'node:worker_threads';
import { BlockBaker } from '@zographos/core';
import { CONTROL, type BakeJob } from './bakePool.ts';
import { tracerOn } from './sceneTree.ts';

parentPort!.on('message', ({ scene, tree, thread, receiver, plan, settings, target, control }: BakeJob) => {
  const baker = new BlockBaker(scene, tracerOn(tree, thread), receiver, plan, settings, target);
  const blocks = plan.columns * plan.rows;
  for (;;) {
    const block = Atomics.add(control, CONTROL.next, 1);
    if (block >= blocks || Atomics.load(control, CONTROL.cancel) !== 0) break;
    baker.bake(block);
    Atomics.add(control, CONTROL.done, 1);
  }
  parentPort!.postMessage(baker.statistics);
});
