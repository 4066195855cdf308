import type { Worker } from 'node:worker_threads';
import { ZographosError } from '@zographos/core/errors';
import { secondsToRead } from '@zographos/formats/meshes';
import { readInTime, startThread } from '@zographos/operations/threads';
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

async function readNow(request: ReadRequest): Promise<ReadResults[keyof ReadResults]> {
  const reader = (thread ??= startThread('./readThread', import.meta.url));
  reader.once('exit', forget);
  reader.ref();
  const hear = (answer: ReadAnswer): ReadResults[keyof ReadResults] => {
    if ('result' in answer) return answer.result;
    throw new ZographosError(answer.code, answer.message);
  };
  try {
    const seconds = secondsToRead(request.bytes.byteLength, request.limits);
    return await readInTime(reader, request.name, request, hear, { seconds });
  } finally {
    reader.off('exit', forget);
    // An idle thread keeps no program from ending.
    reader.unref();
  }
}

const forget = (): void => {
  thread = null;
};
