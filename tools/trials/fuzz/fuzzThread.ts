import { parentPort } from 'node:worker_threads';
import { ZographosError } from '@zographos/core/errors';
import { randomNumbers } from '@zographos/core/math';
import { mutate } from './mutate.ts';
import { readFile } from './readFile.ts';

/** Faulty files of one kind: those of the seeds `from` to below `to`. */
export interface FuzzJob {
  name: string;
  files: Map<string, Uint8Array>;
  from: number;
  to: number;
}

/** Told before each file, with what the one before has come to. */
export interface FuzzTold {
  seed: number;
  outcome: 'begun' | 'read' | 'refused' | 'fault';
  /** What a fault says. */
  why: string;
  isLast: boolean;
}

parentPort!.on('message', (job: FuzzJob) => void work(job));

async function work({ name, files, from, to }: FuzzJob): Promise<void> {
  const others = [...files.values()];
  for (let seed = from; seed < to; seed++) {
    const tell = (outcome: FuzzTold['outcome'], why = ''): void =>
      parentPort!.postMessage({
        seed,
        outcome,
        why,
        isLast: outcome !== 'begun' && seed === to - 1,
      } satisfies FuzzTold);
    tell('begun');
    const random = randomNumbers(seed);
    const bytes = mutate(files.get(name)!, others[Math.floor(random() * others.length)]!, random);
    try {
      await readFile(name, bytes, Object.fromEntries(files));
      tell('read');
    } catch (error) {
      if (error instanceof ZographosError && error.code !== 'service/internal') tell('refused');
      else tell('fault', error instanceof Error ? (error.stack ?? error.message) : String(error));
    }
  }
}
