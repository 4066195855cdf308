import { ZographosError, type ErrorCode } from '@zographos/core/errors';
import type { Mesh } from '@zographos/core/mesh';
import type { LayoutSettings } from './settings.ts';
import { askThread } from '../threads/askThread.ts';
import type { LaidOut, LayoutProgress } from './layOut.ts';
import type { LayoutMessage, LayoutRequest } from './layoutThread.ts';
import { startThread } from '../threads/startThread.ts';

/**
 * Lays meshes out on a thread of its own, which is ended when that is asked for: cutting cannot be stopped otherwise.
 * @param flag shared memory: `RUN_FLAG.enough` ends packing with the best so far
 * @throws input/no-uvs, limit/packing, run/cancelled
 */
export async function layOutOnThread(
  meshes: Mesh[],
  settings: LayoutSettings,
  onProgress: (progress: LayoutProgress) => void = () => {},
  cancel?: AbortSignal,
  flag: Int32Array | null = null,
): Promise<LaidOut> {
  const thread = startThread('./layoutThread', import.meta.url);
  const end = (): void => void thread.terminate();
  cancel?.addEventListener('abort', end);
  try {
    return await askThread(
      thread,
      { meshes, settings, flag } satisfies LayoutRequest,
      (message: LayoutMessage): LaidOut | undefined => {
        if (message.type === 'failed') throw new ZographosError(message.error.code as ErrorCode, message.error.message);
        if (message.type === 'done') return message.laidOut;
        onProgress(message.progress);
        return undefined;
      },
      (cause) =>
        cancel?.aborted
          ? new ZographosError('run/cancelled', 'The layout was cancelled; nothing has changed.')
          : new ZographosError('run/lost', 'The layout came to an unexpected end. Try it again.', { cause }),
    );
  } finally {
    cancel?.removeEventListener('abort', end);
    await thread.terminate();
  }
}
