import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { occlusionFromHeight } from '../../src/derive/occlusionFromHeight.ts';
import { blurPlainly } from '../../src/image/filter/blurPlainly.ts';
import type { Image } from '../../src/image/image.ts';
import { KernelTeam, useKernelTeam } from '../../src/kernel/kernelTeam.ts';
import { randomNumbers } from '../../src/testing/shapes.ts';
import { largestDifference, loadKernel } from './loadKernel.ts';

/** Lumps with grain on them. */
function ground(width: number, height: number): Image {
  const random = randomNumbers(width);
  const grain = (): Image => ({
    ...{ width, height, channels: 1 },
    data: Float32Array.from({ length: width * height }, () => random()),
  });
  const lumps = blurPlainly(grain(), 3, 'repeat').data;
  const fine = grain().data;
  return {
    ...grain(),
    data: lumps.map((value, i) => Math.max(0, Math.min(1, (value - 0.5) * 4 + 0.5 + 0.05 * fine[i]!))),
  };
}

describe('occlusion in the kernel', () => {
  beforeEach(() => void useKernelTeam(new KernelTeam(loadKernel(65536), 1)));
  afterEach(() => void useKernelTeam(null));

  it('is that of plain code, which finds horizons on convex hulls and has sines and cosines in its formula', () => {
    for (const [width, height] of [
      [97, 64],
      [41, 320],
      [64, 130],
      [30, 30],
      [5, 40],
    ] as const) {
      const field = ground(width, height);
      for (const border of ['repeat', 'clamp'] as const) {
        for (const reach of [0.01, 0.06, 0.5, 1]) {
          for (const slices of [3, 8]) {
            const options = { depth: 0.05, reach, slices };
            const own = occlusionFromHeight(field, options, border).data;
            const team = useKernelTeam(null);
            const plain = occlusionFromHeight(field, options, border).data;
            useKernelTeam(team);
            // Either horizon may be too low by 0.0005, which could make 0.0005 of openness if every one was: three steps of
            // 16 bits are seen.
            const name = `${width} × ${height}, ${border}, ${reach}`;
            expect(largestDifference(own, plain), name).toBeLessThan(5e-5);
            const mean = own.reduce((sum, value, i) => sum + Math.abs(value - plain[i]!), 0) / own.length;
            expect(mean, name).toBeLessThan(5e-6);
          }
        }
      }
    }
  });
});
