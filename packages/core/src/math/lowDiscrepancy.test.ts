import { describe, expect, it } from 'vitest';
import { mixed, pointX, pointY } from './lowDiscrepancy.ts';

/** How many of the first `count` points lie in each box of a grid of columns × rows over the unit square. */
function counts(count: number, columns: number, rows: number, seed: number): number[] {
  const boxes = new Array<number>(columns * rows).fill(0);
  for (let i = 0; i < count; i++) {
    boxes[Math.floor(pointY(i, seed) * rows) * columns + Math.floor(pointX(i, seed) * columns)]!++;
  }
  return boxes;
}

describe('low-discrepancy points', () => {
  it('are a net for every seed: one in each box of every grid of 2^k boxes (Joe & Kuo 2008; Burley 2020)', () => {
    for (const seed of [0, 1, 77, -5, mixed(3, 4)]) {
      for (const bits of [2, 4, 6, 10]) {
        for (let wide = 0; wide <= bits; wide++) {
          expect(counts(2 ** bits, 2 ** wide, 2 ** (bits - wide), seed)).toEqual(new Array(2 ** bits).fill(1));
        }
      }
    }
  });

  it('are another set for another seed, within the square', () => {
    const set = (seed: number): number[] => Array.from({ length: 64 }, (_, i) => pointX(i, seed));
    expect(set(1)).not.toEqual(set(2));
    for (const value of set(9)) expect(value >= 0 && value < 1).toBe(true);
  });
});
