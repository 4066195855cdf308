import type { Worker } from 'node:worker_threads';
import { KernelTeam, useKernelTeam, type KernelMemory } from '@zographos/core/kernel';
import { throwIfCancelled, type RunResources } from '../runContext.ts';
import { startThread } from '../threads/startThread.ts';
import { hasKernel, newKernel } from './loadKernel.ts';

/** What a helper of a team is told. */
export interface HelperStart {
  memory: KernelMemory;
  /** From 1 on. */
  thread: number;
}

/**
 * Works on pictures with a team of threads; with plain code where there is no kernel.
 * @param context.cancelFlag ends the work between two of its steps
 * @throws run/cancelled, and what `work` throws
 * @example await withKernelTeam(context, () => deriveMaps(settings, pictures, context, put));
 */
export async function withKernelTeam<Result>(
  { threads, cancelFlag }: Pick<RunResources, 'threads' | 'cancelFlag'>,
  work: () => Result | Promise<Result>,
): Promise<Result> {
  if (!hasKernel()) return work();
  const kernel = newKernel();
  const helpers: Worker[] = [];
  const team = new KernelTeam(kernel, threads, {
    watch: () => throwIfCancelled(cancelFlag),
    startHelpers() {
      for (let thread = 1; thread < threads; thread++) helpers.push(startHelper({ memory: kernel.memory, thread }));
    },
  });
  const before = useKernelTeam(team);
  try {
    return await work();
  } finally {
    useKernelTeam(before);
    team.dissolve();
    for (const helper of helpers) void helper.terminate();
  }
}

function startHelper(start: HelperStart): Worker {
  const helper = startThread('./kernelHelper', import.meta.url);
  helper.unref();
  // That a helper has failed is told by the team.
  helper.on('error', () => {});
  helper.postMessage(start);
  return helper;
}
