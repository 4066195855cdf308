import type { Worker } from 'node:worker_threads';

/**
 * Sends a thread one request and listens until it has answered or died. Only the listeners added here are taken
 * off again: a worker's own bookkeeping hangs on listeners too, and one stripped of them all falls silent.
 * @param hear told each message; returns the answer once a message is it, undefined while more will come, and
 * may throw what the message says went wrong
 * @param died makes the error for a thread that ended without an answer
 */
export function askThread<Message, Answer>(
  thread: Worker,
  request: unknown,
  hear: (message: Message) => Answer | undefined,
  died: (cause?: Error) => Error = (cause) => cause ?? new Error('A thread ended unexpectedly.'),
): Promise<Answer> {
  return new Promise((resolve, reject) => {
    const settle = (finish: () => void): void => {
      thread.off('message', onMessage).off('error', onError).off('exit', onExit);
      finish();
    };
    const onMessage = (message: Message): void => {
      try {
        const answer = hear(message);
        if (answer !== undefined) settle(() => resolve(answer));
      } catch (error) {
        settle(() => reject(asError(error)));
      }
    };
    const onError = (cause: unknown): void => settle(() => reject(died(asError(cause))));
    const onExit = (): void => settle(() => reject(died()));
    thread.on('message', onMessage).on('error', onError).on('exit', onExit);
    thread.postMessage(request);
  });
}

const asError = (thrown: unknown): Error => (thrown instanceof Error ? thrown : new Error(String(thrown)));
