import fc from 'fast-check';
import { describe, expect, it, vi } from 'vitest';
import { conjugateGradients, dotProduct } from './conjugateGradients.ts';
import { DisjointSets } from './disjointSets.ts';
import { fourier2d, fourierPlan } from './fourier.ts';
import { Memo } from './memo.ts';
import { randomNumbers } from './randomNumbers.ts';

const numbers = (length: number) =>
  fc
    .array(fc.double({ min: -10, max: 10, noNaN: true }), { minLength: length, maxLength: length })
    .map((list) => Float64Array.from(list));

describe('Fourier transforms', () => {
  const anyLine = fc.integer({ min: 1, max: 40 }).chain((size) => fc.tuple(numbers(size), numbers(size)));

  it('of any length keep energy (Parseval), and come back', () => {
    fc.assert(
      fc.property(anyLine, ([re, im]) => {
        const [a, b] = [re.slice(), im.slice()];
        const plan = fourierPlan(re.length);
        plan.run(a, b);
        const energy = (x: Float64Array, y: Float64Array): number => dotProduct(x, x) + dotProduct(y, y);
        expect(energy(a, b) / re.length).toBeCloseTo(energy(re, im), 6);
        plan.run(a, b, true);
        a.forEach((value, i) => expect(value).toBeCloseTo(re[i]!, 9));
        b.forEach((value, i) => expect(value).toBeCloseTo(im[i]!, 9));
      }),
    );
  });

  it('are linear, and a shift only turns phases', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 2, max: 33 }).chain((size) => fc.tuple(numbers(size), fc.nat(size - 1))),
        ([line, by]) => {
          const size = line.length;
          const plan = fourierPlan(size);
          const spectrum = (values: Float64Array): Float64Array => {
            const [re, im] = [values.slice(), new Float64Array(size)];
            plan.run(re, im);
            return re.map((value, k) => Math.hypot(value, im[k]!));
          };
          const shifted = line.map((_, i) => line[(i + by) % size]!);
          const [before, after] = [spectrum(line), spectrum(shifted)];
          before.forEach((value, k) => expect(after[k]).toBeCloseTo(value, 7));
        },
      ),
    );
  });

  it('of a wave are one number, in two dimensions', () => {
    const [width, height] = [12, 10];
    const re = new Float64Array(120).map((_, i) =>
      Math.cos(2 * Math.PI * ((3 * (i % width)) / width + (2 * Math.floor(i / width)) / height)),
    );
    const im = new Float64Array(120);
    fourier2d(re, im, width, height);
    re.forEach((value, i) => {
      const [x, y] = [i % width, Math.floor(i / width)];
      const isOurs = (x === 3 && y === 2) || (x === 9 && y === 8);
      expect(Math.hypot(value, im[i]!)).toBeCloseTo(isOurs ? 60 : 0, 8);
    });
  });
});

describe('conjugate gradients (Hestenes & Stiefel 1952)', () => {
  it('solve any symmetric positive system in as many steps as it has unknowns', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 8 }).chain((n) => fc.tuple(numbers(n * n), numbers(n))),
        ([entries, wanted]) => {
          const n = wanted.length;
          // AᵀA + I is symmetric and positive.
          const matrix = Array.from({ length: n }, (_, i) =>
            Array.from({ length: n }, (_, j) => {
              let sum = i === j ? 1 : 0;
              for (let k = 0; k < n; k++) sum += (entries[k * n + i]! * entries[k * n + j]!) / 10;
              return sum;
            }),
          );
          const multiply = (values: Float64Array, product: Float64Array): void =>
            matrix.forEach((row, i) => (product[i] = row.reduce((sum, entry, j) => sum + entry * values[j]!, 0)));
          const rest = new Float64Array(n);
          multiply(wanted, rest);
          const values = new Float64Array(n);
          conjugateGradients({ multiply }, rest, values, { steps: 4 * n, share: 1e-26 });
          values.forEach((value, i) => expect(value).toBeCloseTo(wanted[i]!, 5));
        },
      ),
    );
  });

  it('leave what fits already, and end where a system bends nowhere', () => {
    const values = Float64Array.from([1, 2]);
    conjugateGradients({ multiply: (from, to) => to.set(from) }, new Float64Array(2), values, { steps: 9, share: 0 });
    expect([...values]).toEqual([1, 2]);
    const flat = new Float64Array(2);
    conjugateGradients({ multiply: (_, to) => to.fill(0) }, Float64Array.from([1, 1]), flat, { steps: 9, share: 0 });
    expect([...flat]).toEqual([0, 0]);
  });
});

describe('random numbers', () => {
  it('are the same for a seed, others for another, and even over 0 to 1', () => {
    const take = (seed: number): number[] => Array.from({ length: 4000 }, randomNumbers(seed));
    expect(take(7)).toEqual(take(7));
    expect(take(7)).not.toEqual(take(8));
    const values = take(1);
    const mean = values.reduce((sum, value) => sum + value, 0) / values.length;
    // Five standard deviations of the mean of 4000 even numbers.
    expect(Math.abs(mean - 0.5)).toBeLessThan(5 * Math.sqrt(1 / 12 / 4000));
    for (const value of values) expect(value >= 0 && value < 1).toBe(true);
  });
});

describe('what is kept', () => {
  it('is made once for a key, again for another, and each step by itself', () => {
    const memo = new Memo();
    const make = vi.fn(() => ({}));
    const first = memo.once('blur', 'sigma 2', make);
    expect(memo.once('blur', 'sigma 2', make)).toBe(first);
    expect(memo.has('blur', 'sigma 2')).toBe(true);
    expect(memo.once('blur', 'sigma 3', make)).not.toBe(first);
    expect(memo.has('blur', 'sigma 2')).toBe(false);
    memo.once('halve', 'sigma 2', make);
    expect(make).toHaveBeenCalledTimes(3);
  });

  it('forgets a step that failed', () => {
    const memo = new Memo();
    memo.once('blur', 'a', () => 1);
    expect(() =>
      memo.once('blur', 'b', () => {
        throw new Error('no room');
      }),
    ).toThrow('no room');
    expect(memo.has('blur', 'a')).toBe(false);
    expect(memo.once('blur', 'b', () => 2)).toBe(2);
  });
});

describe('disjoint sets', () => {
  it('are those of the graph whose edges are joined, and stand for themselves by their least number', () => {
    const edges = fc.array(fc.tuple(fc.nat(29), fc.nat(29)), { maxLength: 40 });
    fc.assert(
      fc.property(edges, (list) => {
        const sets = DisjointSets.of(30);
        for (const [a, b] of list) sets.join(a, b);
        // Labels passed on along edges until nothing changes.
        const labels = Array.from({ length: 30 }, (_, n) => n);
        for (let round = 0; round < 30; round++) {
          for (const [a, b] of list) labels[a] = labels[b] = Math.min(labels[a]!, labels[b]!);
        }
        expect(labels.map((_, n) => sets.find(n))).toEqual(labels);
      }),
    );
  });
});
