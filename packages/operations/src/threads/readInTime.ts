import type { Worker } from 'node:worker_threads';
import { ZographosError } from '@zographos/core/errors';
import { askThread } from './askThread.ts';

/**
 * Asks a thread to read a file, and ends the thread when its time is over or whoever asked has left.
 * @param name of the file, for what is told
 * @param hear as of `askThread`
 * @param options.seconds that it may take
 * @param options.signal ends it
 * @throws what `hear` throws; limit/time; run/cancelled; input/unreadable-file when the thread dies
 * @example const answer = await readInTime(thread, 'kit.obj', request, (message) => message, { seconds: 60 });
 */
export async function readInTime<Message, Answer>(
  thread: Worker,
  name: string,
  request: unknown,
  hear: (message: Message) => Answer | undefined,
  { seconds, signal }: { seconds: number; signal?: AbortSignal | undefined },
): Promise<Answer> {
  let isOver = false;
  const end = (): void => void thread.terminate();
  const timer = setTimeout(() => {
    isOver = true;
    end();
  }, seconds * 1000);
  signal?.addEventListener('abort', end);
  if (signal?.aborted) end();
  try {
    return await askThread(thread, request, hear, () => {
      if (signal?.aborted) return cancelled();
      return isOver ? tookTooLong(name, seconds) : ranOut(name);
    });
  } finally {
    clearTimeout(timer);
    signal?.removeEventListener('abort', end);
  }
}

const cancelled = (): ZographosError =>
  new ZographosError('run/cancelled', 'The import was cancelled; files that were read before stay.');

const tookTooLong = (name: string, seconds: number): ZographosError =>
  new ZographosError(
    'limit/time',
    `“${name}” was not read within ${Math.ceil(seconds)} seconds, far longer than a file of its size takes. It is probably damaged: export it again, split it, or raise ZOGRAPHOS_MAX_READ_SECONDS.`,
  );

const ranOut = (name: string): ZographosError =>
  new ZographosError(
    'input/unreadable-file',
    `“${name}” could not be read: reading it needed more memory than there is. Split it or reduce its triangles.`,
  );
