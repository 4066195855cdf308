import { ZographosError, type ErrorCode } from '@zographos/core/errors';
import type { Worker } from 'node:worker_threads';
import { askThread } from './askThread.ts';
import { errorIfCancelled, throwIfCancelled } from '../runContext.ts';
import { startThread } from './startThread.ts';

/** How often it is looked whether a run is to stop: threads do not hear while they compute. */
const CANCEL_MS = 100;

/** Threads of one kind that take jobs as they become free; each answers a job with one message. */
export class ThreadTeam<Job, Answer> {
  private readonly threads: Worker[];
  private readonly waiting: ((thread: Worker | null) => void)[] = [];
  private readonly free: Worker[];
  private readonly cancelFlag: Int32Array;
  private readonly watch: NodeJS.Timeout;
  private isClosed = false;
  private isThere = false;

  /**
   * @param module the thread's module without ending, relative to the caller
   * @param callerUrl the caller's import.meta.url
   */
  constructor(module: string, callerUrl: string, count: number, cancelFlag: Int32Array) {
    this.threads = Array.from({ length: Math.max(1, count) }, () => startThread(module, callerUrl));
    this.free = [...this.threads];
    for (const thread of this.threads) {
      thread.once('message', () => (this.isThere = true));
      // One that fails before it is asked for anything.
      thread.on('error', () => this.close());
    }
    this.cancelFlag = cancelFlag;
    this.watch = setInterval(() => {
      if (errorIfCancelled(cancelFlag)) this.close();
    }, CANCEL_MS);
  }

  /** Whether its threads are still coming up: none has said that it is there. */
  isStarting(): boolean {
    return !this.isThere && !this.isClosed;
  }

  /** @throws run/cancelled, run/failed, and whatever the thread threw */
  async do(job: Job): Promise<Answer> {
    const thread = this.free.pop() ?? (await new Promise<Worker | null>((resolve) => this.waiting.push(resolve)));
    throwIfCancelled(this.cancelFlag);
    if (!thread || this.isClosed) throw new ZographosError('run/failed', LOST);
    const answer = await askThread(
      thread,
      job,
      (message: TeamMessage<Answer>) => (message.what === 'there' ? undefined : message),
      (cause) => {
        // Without it the others could wait for ever.
        this.close();
        return errorIfCancelled(this.cancelFlag) ?? new ZographosError('run/failed', LOST, { cause });
      },
    );
    const next = this.waiting.shift();
    if (next) next(thread);
    else this.free.push(thread);
    if (answer.what === 'failed') throw new ZographosError(answer.code, answer.message);
    return answer.answer;
  }

  close(): void {
    this.isClosed = true;
    clearInterval(this.watch);
    for (const thread of this.threads) void thread.terminate();
    for (const next of this.waiting.splice(0)) next(null);
  }
}

const LOST = 'A thread of this run was lost. Run it again.';

/** What a thread of a team tells: once that it is there, then an answer to each job. */
export type TeamMessage<Answer> =
  { what: 'there' } | { what: 'done'; answer: Answer } | { what: 'failed'; code: ErrorCode; message: string };
