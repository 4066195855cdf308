import type { Worker } from 'node:worker_threads';
import { ZographosError } from '@zographos/core/errors';
import { askThread, startThread } from '@zographos/operations/threads';
import type {
  OperationAnswer,
  OperationAsk,
  OperationDone,
  OperationMessage,
  OperationRequest,
} from './operationThread.ts';

/** Whoever a run asks and tells while it goes on. */
export interface RunDoor {
  onMessage: (message: Extract<OperationMessage, { kind: 'progress' | 'canvas' }>) => void;
  answer: (ask: OperationAsk) => Promise<unknown>;
}

/**
 * Runs operations on a thread that stays warm between runs and keeps its trees, so that the process around it
 * can go on renewing leases and answering. A thread that dies is replaced for the next run.
 */
export class OperationHost {
  private thread: Worker | null = null;

  /** @throws ZographosError as the operation says, with `detail` for the log in its cause; and whatever a door throws */
  async run(request: OperationRequest, { onMessage, answer }: RunDoor): Promise<OperationDone> {
    const thread = (this.thread ??= startThread('./operationThread', import.meta.url));
    /** A fault on this side, such as a full disk, which is told as it is and not as the operation hears of it. */
    const faults: unknown[] = [];
    return askThread(
      thread,
      request,
      (message: OperationMessage) => {
        if (message.kind === 'done') return message.done;
        if (message.kind === 'failed') {
          if (faults.length > 0) throw faults[0];
          throw new ZographosError(message.code, message.message, { cause: message.detail });
        }
        if (message.kind === 'ask') {
          const { number } = message;
          const reply = (what: OperationAnswer): void => thread.postMessage(what);
          answer(message.ask).then(
            (found) => reply({ number, answer: found }),
            (error: unknown) => {
              faults.push(error);
              const code = error instanceof ZographosError ? error.code : 'run/failed';
              reply({ number, failed: { code, message: error instanceof Error ? error.message : String(error) } });
            },
          );
        } else onMessage(message);
        return undefined;
      },
      (cause) => {
        this.thread = null;
        return new ZographosError(
          'run/failed',
          'The run needed more memory than this machine gave it and was stopped. Choose a smaller size or fewer samples.',
          { cause },
        );
      },
    );
  }

  async close(): Promise<void> {
    await this.thread?.terminate();
    this.thread = null;
  }
}
