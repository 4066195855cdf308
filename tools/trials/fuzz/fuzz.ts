import type { Worker } from 'node:worker_threads';
import { askThread, startThread } from '@zographos/operations/threads';
import { goodFiles } from './goodFiles.ts';
import type { FuzzJob, FuzzTold } from './fuzzThread.ts';

/** What one faulty file may take; good ones of their size take milliseconds. */
const MAX_SECONDS = 5;
const MAX_BYTES = 1.5e9;

/** A faulty file that was neither read nor refused in words, by its name and seed. */
export interface FuzzFinding {
  name: string;
  seed: number;
  why: string;
}

/**
 * Reads faulty files of every kind, each made of a good one by a seed, and finds those that are neither read nor refused by
 * one typed error within a limit of time and memory.
 * @param from the first seed; the same seeds give the same files
 * @param count faulty files of each kind
 * @param names kinds of files; all by default
 * @returns findings, and how many files were read and refused
 * @example const { findings } = await fuzz(1, 50, ['ball.obj']);
 */
export async function fuzz(
  from: number,
  count: number,
  names?: readonly string[],
): Promise<{ findings: FuzzFinding[]; read: number; refused: number }> {
  const files = await goodFiles();
  const findings: FuzzFinding[] = [];
  const sums = { read: 0, refused: 0 };
  let thread = null as Worker | null;
  try {
    for (const name of names ?? files.keys()) {
      for (let next = from; next < from + count;) next = await readSome({ name, files, from: next, to: from + count });
    }
  } finally {
    await thread?.terminate();
  }
  return { findings, ...sums };

  /** Reads until the last, or until one does not end; returns the seed to go on with. */
  async function readSome(job: FuzzJob): Promise<number> {
    const reader = (thread ??= startThread('./fuzzThread', import.meta.url));
    let current = job.from;
    let timer: NodeJS.Timeout | undefined;
    const limit = { isOver: false };
    let before = 0;
    try {
      await askThread(reader, job, ({ seed, outcome, why, isLast }: FuzzTold) => {
        clearTimeout(timer);
        current = seed;
        if (outcome === 'begun') {
          before = process.memoryUsage.rss();
          timer = setTimeout(() => {
            limit.isOver = true;
            void reader.terminate();
          }, MAX_SECONDS * 1000);
          return undefined;
        }
        const grown = process.memoryUsage.rss() - before;
        if (grown > MAX_BYTES) findings.push({ name: job.name, seed, why: `took ${Math.round(grown / 1e6)} MB` });
        if (outcome === 'fault') findings.push({ name: job.name, seed, why });
        else sums[outcome]++;
        return isLast ? true : undefined;
      });
      return job.to;
    } catch (error) {
      const why = limit.isOver ? `did not end within ${MAX_SECONDS} s` : `its thread died: ${String(error)}`;
      findings.push({ name: job.name, seed: current, why });
      thread = null;
      return current + 1;
    } finally {
      clearTimeout(timer);
    }
  }
}
