import { describe, expect, it } from 'vitest';
import { randomNumbers } from '../../math/randomNumbers.ts';
import { grey, pebbles } from '../testing/pebbles.ts';
import { bandedCut } from './bandedCut.ts';
import { costBetween, type CutCost } from './cutCost.ts';
import { CutSide, minCut } from './minCut.ts';

/** What a cut costs as a whole. */
function costOf(
  cut: (at: number) => number,
  cost: CutCost,
  { width, height, repeats = false, side }: { width: number; height: number; repeats?: boolean; side?: Uint8Array },
): number {
  let sum = 0;
  const isThere = (at: number): boolean => side?.[at] !== CutSide.outside;
  for (let at = 0; at < width * height; at++) {
    if (!isThere(at)) continue;
    const below = at + width < width * height ? at + width : repeats ? at % width : at;
    if (at % width < width - 1 && isThere(at + 1) && cut(at) !== cut(at + 1)) sum += 1 + cost.right[at]!;
    if (isThere(below) && cut(at) !== cut(below)) sum += 1 + cost.below[at]!;
  }
  return sum;
}

/** The left column stays old, the right one is new. */
function fromLeftToRight(width: number, height: number): Uint8Array {
  const side = new Uint8Array(width * height);
  for (let y = 0; y < height; y++) {
    side[y * width] = CutSide.old;
    side[y * width + width - 1] = CutSide.fresh;
  }
  return side;
}

describe('the minimum cut', () => {
  it.each([false, true])(
    'costs what the best of all cuts costs, repeating: %s (exhaustive search; Kwatra and others 2003)',
    (repeats) => {
      const random = randomNumbers(17);
      const [width, height] = [4, 4];
      const costs = (): Int32Array => Int32Array.from({ length: width * height }, () => Math.floor(random() * 30));
      for (let round = 0; round < 40; round++) {
        const cost = { right: costs(), below: costs() };
        const side = fromLeftToRight(width, height);
        if (round % 3 === 0) side[5] = CutSide.outside;
        const grid = { width, height, repeats, side };
        const free = [...side.keys()].filter((at) => side[at] === CutSide.either);
        let best = Infinity;
        for (let bits = 0; bits < 1 << free.length; bits++) {
          const chosen = (at: number): number =>
            side[at] === CutSide.either ? (bits >> free.indexOf(at)) & 1 : side[at] === CutSide.fresh ? 1 : 0;
          best = Math.min(best, costOf(chosen, cost, grid));
        }
        const cut = minCut(cost, side, width, height, repeats);
        for (let at = 0; at < cut.length; at++) {
          if (side[at] === CutSide.old) expect(cut[at]).toBe(0);
          if (side[at] === CutSide.fresh) expect(cut[at]).toBe(1);
        }
        expect(costOf((at) => cut[at]!, cost, grid)).toBe(best);
      }
    },
  );
});

describe('the cut within a band', () => {
  it.each([false, true])(
    'costs hardly more than the best of all, and less than a straight one, repeating: %s',
    (repeats) => {
      const [width, height] = [360, 90];
      const rough = pebbles(360, 9);
      const costs = (of: number): Int32Array =>
        Int32Array.from({ length: width * height }, (_, at) => Math.round(rough.data[at + of]! * 400));
      const cost = { right: costs(0), below: costs(width * height) };
      const side = fromLeftToRight(width, height);
      const grid = { width, height, repeats };
      const [exact, banded] = [minCut, bandedCut].map((cut) => {
        const found = cut(cost, side, width, height, repeats);
        return costOf((at) => found[at]!, cost, grid);
      });
      expect(banded! / exact!).toBeGreaterThanOrEqual(1);
      expect(banded! / exact!).toBeLessThan(1.1);
      expect(banded!).toBeLessThan(costOf((at) => (at % width < width / 2 ? 0 : 1), cost, grid) * 0.8);
    },
  );
});

describe('what a cut costs between two texels', () => {
  const step = (from: number, to: number) => grey(2, 1, (x) => (x === 0 ? from : to));
  const cost = (one: [number, number], other: [number, number]): number =>
    costBetween(step(...one), 0, 1, step(...other), 0, 1);

  it('is nothing where both pictures are alike, and more the more they differ', () => {
    expect(cost([0.2, 0.9], [0.2, 0.9])).toBe(0);
    expect(cost([0.5, 0.5], [0.6, 0.6])).toBeLessThan(cost([0.5, 0.5], [0.7, 0.7]));
  });

  it('is less along an edge that both pictures have, but not along one that only one has', () => {
    const flat = cost([0.5, 0.5], [0.6, 0.6]);
    expect(cost([0.2, 0.8], [0.3, 0.9])).toBeLessThan(flat / 4);
    expect(cost([0.2, 0.8], [0.5, 0.5])).toBeGreaterThan(flat);
  });

  it('is told of colours as the eye takes them: a step in the dark shows more than the same in the light', () => {
    const colors = (value: number) => ({ ...grey(2, 1, () => value), colorSpace: 'srgb' as const });
    const dark = costBetween(colors(0.01), 0, 1, colors(0.04), 0, 1);
    const light = costBetween(colors(0.8), 0, 1, colors(0.83), 0, 1);
    expect(dark).toBeGreaterThan(4 * light);
  });
});
