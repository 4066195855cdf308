import { describe, expect, it } from 'vitest';
import { randomNumbers } from '../math/randomNumbers.ts';
import { principalAxes } from './principalAxes.ts';

describe('principal axes', () => {
  it('are those along which samples were scattered, upright on each other (Golub and Van Loan, 8.5)', () => {
    const random = randomNumbers(8);
    // A turn about (1, 1, 1) by a third of a right angle; spread 3, 1 and 0.2 along its axes.
    const [c, s] = [Math.cos(Math.PI / 6), Math.sin(Math.PI / 6)];
    const [k, r] = [(1 - c) / 3, s / Math.sqrt(3)];
    const turned = [
      [c + k, k + r, k - r],
      [k - r, c + k, k + r],
      [k + r, k - r, c + k],
    ];
    const spread = [3, 1, 0.2];
    const samples = new Float32Array(3 * 20000);
    for (let i = 0; i < samples.length; i += 3) {
      const along = spread.map((wide) => wide * (random() + random() + random() - 1.5));
      for (let ch = 0; ch < 3; ch++) {
        samples[i + ch] = 0.4 + turned.reduce((sum, axis, a) => sum + axis[ch]! * along[a]!, 0);
      }
    }
    const axes = principalAxes(samples, 3);
    const dot = (a: ArrayLike<number>, b: ArrayLike<number>): number => a[0]! * b[0]! + a[1]! * b[1]! + a[2]! * b[2]!;
    const rows = [0, 3, 6].map((at) => axes.subarray(at, at + 3));
    rows.forEach((row, i) => {
      rows.forEach((other, j) => expect(dot(row, other)).toBeCloseTo(i === j ? 1 : 0, 10));
    });
    for (const axis of turned) expect(Math.max(...rows.map((row) => Math.abs(dot(row, axis))))).toBeGreaterThan(0.999);
  });
});
