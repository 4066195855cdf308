import { parentPort } from 'node:worker_threads';
import { BlockBaker, sampleCapacity, type Tracers } from '@zographos/core/bake';
import { NearestPlace } from '@zographos/core/trace';
import { CONTROL, type BakeJob, type BakeTrees } from './bakePool.ts';
import { samplesOn, tracersOn } from '../../scene/sceneTree.ts';

parentPort!.on('message', ({ work, trees, thread, control }: BakeJob) => {
  const baker = new BlockBaker(work, tracersFor(trees, thread, sampleCapacity(work.settings.samplesPerAxis)));
  const blocks = work.plan.columns * work.plan.rows;
  for (;;) {
    const block = Atomics.add(control, CONTROL.next, 1);
    if (block >= blocks || Atomics.load(control, CONTROL.cancel) !== 0) break;
    baker.bake(block);
    Atomics.add(control, CONTROL.done, 1);
  }
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
