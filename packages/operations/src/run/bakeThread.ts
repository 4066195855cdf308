import { parentPort } from 'node:worker_threads';
import { BlockBaker, bvhTracer } from '@zographos/core';
import { CONTROL, type BakeJob } from './bakePool.ts';

parentPort!.on('message', ({ scene, bvh, receiver, plan, settings, target, control }: BakeJob) => {
  const baker = new BlockBaker(scene, bvhTracer(bvh), receiver, plan, settings, target);
  const blocks = plan.columns * plan.rows;
  for (;;) {
    const block = Atomics.add(control, CONTROL.next, 1);
    if (block >= blocks || Atomics.load(control, CONTROL.cancel) !== 0) break;
    baker.bake(block);
    Atomics.add(control, CONTROL.done, 1);
  }
  parentPort!.postMessage(baker.statistics);
});
