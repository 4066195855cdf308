import type { Worker } from 'node:worker_threads';
import { ZographosError } from '@zographos/core/errors';
import { askThread, startThread } from '@zographos/operations/run';
import type { OperationDone, OperationMessage, OperationRequest } from './operationThread.ts';

/**
 * Runs operations on a thread that stays warm between runs and keeps its trees, so that the process around it
 * can go on renewing leases and answering. A thread that dies is replaced for the next run.
 */
export class OperationHost {
  private thread: Worker | null = null;

  /** @throws ZographosError as the operation says, with `detail` for the log in its cause */
  async run(
    request: OperationRequest,
    onMessage: (message: Extract<OperationMessage, { kind: 'progress' | 'canvas' }>) => void,
  ): Promise<OperationDone> {
    const thread = (this.thread ??= startThread('./operationThread', import.meta.url));
    return askThread(
      thread,
      request,
      (message: OperationMessage) => {
        if (message.kind === 'done') return message.done;
        if (message.kind === 'failed')
          throw new ZographosError(message.code, message.message, { cause: message.detail });
        onMessage(message);
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
