import { afterEach, describe, expect, it, vi } from 'vitest';
import { ThreadTeam } from './threadTeam.ts';

let team: ThreadTeam<number, { square: number }> | null = null;
const flag = (): Int32Array => new Int32Array(new SharedArrayBuffer(4));
const teamOf = (count: number, cancel = flag()) => {
  team = new ThreadTeam('../testing/squareThread', import.meta.url, count, cancel);
  return team;
};
afterEach(() => team?.close());

describe('a team of threads', () => {
  it.each([1, 3])('of %i does every job once, each answer to its own question', async (count) => {
    const numbers = Array.from({ length: 20 }, (_, i) => i * 100);
    const working = teamOf(count);
    const answers = await Promise.all(numbers.map((number) => working.do(number)));
    expect(answers.map(({ square }) => square)).toEqual(numbers.map((number) => number * number));
  });

  it('tells what a thread has thrown as it was, and goes on', async () => {
    const working = teamOf(1);
    await expect(working.do(-4)).rejects.toMatchObject({
      ...{ code: 'input/bad-settings', message: '-4 is less than 0. Give a number above it.' },
    });
    expect(await working.do(5)).toEqual({ square: 25 });
  });

  it('that loses a thread fails all its jobs, and leaves none waiting', async () => {
    const working = teamOf(1);
    const jobs = await Promise.allSettled([working.do(13), working.do(2), working.do(3)]);
    for (const job of jobs) {
      expect(job).toMatchObject({
        status: 'rejected',
        reason: { code: 'run/failed', message: 'A thread of this run was lost. Run it again.' },
      });
    }
  });

  it('whose run is cancelled stops within a moment, and says so', async () => {
    const cancel = flag();
    const working = teamOf(1, cancel);
    await working.do(1);
    Atomics.store(cancel, 0, 1);
    await expect(working.do(2)).rejects.toMatchObject({ code: 'run/cancelled' });
  });

  it('is starting until one of its threads has come up, and not once it is closed', async () => {
    const working = teamOf(2);
    expect(working.isStarting()).toBe(true);
    await vi.waitFor(() => expect(working.isStarting()).toBe(false), { timeout: 10_000 });
    expect(await working.do(6)).toEqual({ square: 36 });
    working.close();
    const other = teamOf(1);
    other.close();
    expect(other.isStarting()).toBe(false);
  });

  it('whose threads fail before they are asked for anything fails its jobs, and nothing else', async () => {
    const working = new ThreadTeam<number, unknown>('./thereIsNoSuchThread', import.meta.url, 1, flag());
    await vi.waitFor(() => expect(working.isStarting()).toBe(false), { timeout: 10_000 });
    await expect(working.do(2)).rejects.toMatchObject({ code: 'run/failed' });
  });

  it('that is closed takes no more jobs', async () => {
    const working = teamOf(2);
    await working.do(1);
    working.close();
    await expect(working.do(2)).rejects.toMatchObject({ code: 'run/failed' });
  });
});
