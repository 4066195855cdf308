import { parentPort } from 'node:worker_threads';
import { ZographosError } from '@zographos/core/errors';
import type { TeamMessage } from './threadTeam.ts';

/** Makes this thread one of a team: it says that it is there, and answers each job, or tells what went wrong with it. */
export function answerJobs<Job, Answer>(work: (job: Job) => Answer): void {
  parentPort!.on('message', (job: Job) => {
    let message: TeamMessage<Answer>;
    try {
      message = { what: 'done', answer: work(job) };
    } catch (error) {
      const code = error instanceof ZographosError ? error.code : 'run/failed';
      message = { what: 'failed', code, message: error instanceof Error ? error.message : String(error) };
    }
    parentPort!.postMessage(message);
  });
  parentPort!.postMessage({ what: 'there' } satisfies TeamMessage<Answer>);
}
