import { parentPort } from 'node:worker_threads';
import { helpTeam } from '@zographos/core/kernel';
import { attachKernel } from './loadKernel.ts';
import type { HelperStart } from './withKernelTeam.ts';

parentPort!.once('message', ({ memory, thread }: HelperStart) => helpTeam(attachKernel(memory), thread));
