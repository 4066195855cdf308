import { parentPort } from 'node:worker_threads';
import { attachKernel } from '../kernel/loadKernel.ts';
import { TREE, type TreeJob } from './treeHelper.ts';

parentPort!.on('message', ({ memory, jobs, control }: TreeJob) => {
  try {
    const { exports } = attachKernel(memory);
    jobs.forEach((job, i) => (control[i + 1] = exports.subtree(...job)));
    Atomics.store(control, 0, TREE.done);
  } catch {
    Atomics.store(control, 0, TREE.failed);
  }
  Atomics.notify(control, 0);
});
