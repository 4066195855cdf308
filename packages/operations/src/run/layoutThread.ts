import { parentPort } from 'node:worker_threads';
import { ZographosError, type Mesh } from '@zographos/core';
import type { LayoutSettings } from '../layout/layoutSettings.ts';
import { layOut, type LaidOut, type LayoutProgress } from './layOut.ts';

export interface LayoutRequest {
  meshes: Mesh[];
  settings: LayoutSettings;
}

export type LayoutMessage =
  | { type: 'progress'; progress: LayoutProgress }
  | { type: 'done'; laidOut: LaidOut }
  | { type: 'failed'; error: { code: string; message: string } };

const say = (message: LayoutMessage): void => parentPort!.postMessage(message);

parentPort!.on('message', ({ meshes, settings }: LayoutRequest) => {
  layOut(meshes, settings, (progress) => say({ type: 'progress', progress })).then(
    (laidOut) => say({ type: 'done', laidOut }),
    (error: unknown) => {
      const code = error instanceof ZographosError ? error.code : 'run/failed';
      say({ type: 'failed', error: { code, message: error instanceof Error ? error.message : String(error) } });
    },
  );
});
