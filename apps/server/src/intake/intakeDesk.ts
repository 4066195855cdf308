import { askThread, startThread } from '@zographos/operations/threads';
import { ZographosError } from '@zographos/core/errors';
import type { IntakeAnswer, IntakeRequest } from './intakeThread.ts';

/**
 * Reads a file on a thread of its own, so that a huge or hostile one neither stops the server nor takes it
 * down: the thread ends with its answer, and its memory with it.
 * @throws ZographosError as the reader says, or input/unreadable-file when the thread dies
 */
export async function readOnThread<Kind extends IntakeRequest['kind']>(
  request: IntakeRequest & { kind: Kind },
): Promise<Extract<IntakeAnswer, { kind: Kind }>> {
  const thread = startThread('./intakeThread', import.meta.url);
  try {
    const answer = await askThread(
      thread,
      request,
      (message: IntakeAnswer) => message,
      () =>
        new ZographosError(
          'input/unreadable-file',
          `“${request.name}” could not be read: reading it needed more memory than there is. Split it or reduce its triangles.`,
        ),
    );
    if (answer.kind === 'error') throw new ZographosError(answer.code, answer.message);
    return answer as Extract<IntakeAnswer, { kind: Kind }>;
  } finally {
    void thread.terminate();
  }
}
