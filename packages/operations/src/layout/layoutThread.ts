import { parentPort } from 'node:worker_threads';
import { ZographosError } from '@zographos/core/errors';
import type { Mesh } from '@zographos/core/mesh';
import type { LayoutSettings } from './settings.ts';
import { RUN_FLAG } from '../runContext.ts';
import { layOut, type LaidOut, type LayoutProgress } from './layOut.ts';

export interface LayoutRequest {
  meshes: Mesh[];
  settings: LayoutSettings;
  /** Shared memory: 2 takes the best packing so far. */
  flag: Int32Array | null;
}

export type LayoutMessage =
  | { type: 'progress'; progress: LayoutProgress }
  | { type: 'done'; laidOut: LaidOut }
  | { type: 'failed'; error: { code: string; message: string } };

const say = (message: LayoutMessage): void => parentPort!.postMessage(message);

parentPort!.on('message', ({ meshes, settings, flag }: LayoutRequest) => {
  const isEnough = (): boolean => flag !== null && Atomics.load(flag, 0) === RUN_FLAG.enough;
  layOut(meshes, settings, (progress) => say({ type: 'progress', progress }), isEnough).then(
    (laidOut) => say({ type: 'done', laidOut }),
    (error: unknown) => {
      const code = error instanceof ZographosError ? error.code : 'run/failed';
      say({ type: 'failed', error: { code, message: error instanceof Error ? error.message : String(error) } });
    },
  );
});
