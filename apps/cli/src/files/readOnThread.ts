import type { Worker } from 'node:worker_threads';
import { ZographosError } from '@zographos/core/errors';
import { secondsToRead } from '@zographos/formats/meshes';
import { askThread, startThread } from '@zographos/operations/threads';
import type { ReadAnswer, ReadRequest, ReadResults } from './readThread.ts';

/** Reads one file after the other; begun with the first, and anew after a file that took too long. */
let thread: Worker | null = null;
let turn: Promise<unknown> = Promise.resolve();

/**
 * Reads a file on a thread, so that one that would take for ever is given up.
 * @throws ZographosError as the reader says; limit/time; input/unreadable-file when the thread dies
 * @example const image = await readOnThread({ kind: 'image', name, bytes, limits });
 */
export function readOnThread<Kind extends ReadRequest['kind']>(
  request: ReadRequest & { kind: Kind },
): Promise<ReadResults[Kind]> {
  const reading = turn.then(() => readNow(request));
  turn = reading.catch(() => {});
  return reading as Promise<ReadResults[Kind]>;
}

async function readNow({ name, bytes, limits, ...rest }: ReadRequest): Promise<ReadResults[keyof ReadResults]> {
  const reader = (thread ??= startThread('./readThread', import.meta.url));
  const seconds = secondsToRead(bytes.byteLength, limits);
  let isOver = false;
  const timer = setTimeout(() => {
    isOver = true;
    void reader.terminate();
  }, seconds * 1000);
  reader.ref();
  try {
    return await askThread(
      reader,
      { name, bytes, limits, ...rest },
      (answer: ReadAnswer) => {
        if ('result' in answer) return answer.result;
        throw new ZographosError(answer.code, answer.message);
      },
      () => {
        thread = null;
        return isOver ? tookTooLong(name, seconds) : ranOut(name);
      },
    );
  } finally {
    clearTimeout(timer);
    // An idle thread keeps no program from ending.
    reader.unref();
  }
}

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
