import { describe, expect, it } from 'vitest';
import { LATE_MS, LivePace } from './livePace.ts';

/** A machine that takes so long for a picture in full, and for a draft by its texels. */
function follow(pace: LivePace, inFull: number, times: number): number[] {
  pace.tookInFull('tile', inFull);
  return Array.from({ length: times }, () => {
    const divisor = pace.divisor('tile');
    if (divisor > 1) pace.tookAsDraft('tile', inFull / divisor ** 2);
    return divisor;
  });
}

describe('drafts while settings move', () => {
  it('are not made of what comes in time', () => expect(follow(new LivePace(), LATE_MS, 3)).toEqual([1, 1, 1]));

  it.each([
    [1.1, 2],
    [2.7, 2],
    [4.1, 4],
    [11, 4],
    [1000, 8],
  ])('of what takes %f times too long are smaller by %i', (times, divisor) =>
    expect(follow(new LivePace(), LATE_MS * times, 4)).toEqual([divisor, divisor, divisor, divisor]),
  );

  it('become smaller where they still come too late, and larger again where there is time', () => {
    const pace = new LivePace();
    pace.tookInFull('tile', LATE_MS * 2);
    pace.tookAsDraft('tile', LATE_MS + 1);
    expect(pace.divisor('tile')).toBe(4);
    pace.tookAsDraft('tile', 1);
    pace.tookAsDraft('tile', 1);
    expect(pace.divisor('tile')).toBe(1);
    expect(pace.divisor('field')).toBe(1);
  });
});
