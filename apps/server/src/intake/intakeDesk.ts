import { askThread, startThread } from '@zographos/operations/threads';
import { ZographosError } from '@zographos/core/errors';
import { DEFAULT_LIMITS, secondsToRead } from '@zographos/formats/meshes';
import type { IntakeAnswer, IntakeRequest } from './intakeThread.ts';

/**
 * Reads a file on a thread of its own, so that a huge or hostile one neither stops the server nor takes it
 * down: the thread ends with its answer, or when its time is over, and its memory with it.
 * @param options.seconds that it may take; by its size if left out
 * @param options.signal ends it
 * @throws ZographosError as the reader says, limit/time, run/cancelled, or input/unreadable-file when the thread dies
 */
export async function readOnThread<Kind extends IntakeRequest['kind']>(
  request: IntakeRequest & { kind: Kind },
  { seconds = budgetOf(request), signal }: { seconds?: number; signal?: AbortSignal | undefined } = {},
): Promise<Extract<IntakeAnswer, { kind: Kind }>> {
  if (signal?.aborted) throw cancelled();
  const thread = startThread('./intakeThread', import.meta.url);
  let isOver = false;
  const leave = (): void => void thread.terminate();
  signal?.addEventListener('abort', leave);
  const timer = setTimeout(() => {
    isOver = true;
    void thread.terminate();
  }, seconds * 1000);
  try {
    const answer = await askThread(
      thread,
      request,
      (message: IntakeAnswer) => message,
      () => (signal?.aborted ? cancelled() : isOver ? tookTooLong(request.name, seconds) : ranOut(request.name)),
    );
    if (answer.kind === 'error') throw new ZographosError(answer.code, answer.message);
    return answer as Extract<IntakeAnswer, { kind: Kind }>;
  } finally {
    clearTimeout(timer);
    signal?.removeEventListener('abort', leave);
    void thread.terminate();
  }
}

/** Seconds that a request may take. */
function budgetOf(request: IntakeRequest): number {
  const bytes = request.kind === 'file' ? request.image.data.byteLength : request.bytes.byteLength;
  return secondsToRead(bytes, 'limits' in request ? request.limits : DEFAULT_LIMITS);
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
