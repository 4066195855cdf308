import { readInTime, startThread } from '@zographos/operations/threads';
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
  const thread = startThread('./intakeThread', import.meta.url);
  try {
    const hear = (message: IntakeAnswer): IntakeAnswer => message;
    const answer = await readInTime(thread, request.name, request, hear, { seconds, signal });
    if (answer.kind === 'error') throw new ZographosError(answer.code, answer.message);
    return answer as Extract<IntakeAnswer, { kind: Kind }>;
  } finally {
    void thread.terminate();
  }
}

/** Seconds that a request may take. */
function budgetOf(request: IntakeRequest): number {
  const bytes = bytesOf(request);
  return secondsToRead(bytes, 'limits' in request ? request.limits : DEFAULT_LIMITS);
}

function bytesOf(request: IntakeRequest): number {
  if (request.kind === 'demo') return DEMO_BYTES;
  return request.kind === 'file' ? request.image.data.byteLength : request.bytes.byteLength;
}

/** What the files of the demo come to, about. */
const DEMO_BYTES = 200e6;
