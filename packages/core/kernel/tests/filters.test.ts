import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { KernelTeam, useKernelTeam } from '../../src/kernel/kernelTeam.ts';
import { denoise } from '../../src/adjust/denoise.ts';
import { blur } from '../../src/image/filter/blur.ts';
import { blurPlainly } from '../../src/image/filter/blurPlainly.ts';
import { resample, RESAMPLE_KERNELS, type Border } from '../../src/image/filter/resample.ts';
import type { Image } from '../../src/image/image.ts';
import { randomNumbers } from '../../src/testing/shapes.ts';
import { largestDifference, loadKernel } from './loadKernel.ts';

/** With so little room, pictures of a few hundred texels are worked on part by part. */
const LITTLE_ROOM = 4096;

const SHAPES = [
  [37, 21, 1],
  [64, 33, 2],
  [50, 41, 3],
  [19, 70, 4],
  [1, 9, 1],
  [300, 2, 3],
] as const;
const BORDERS = ['clamp', 'repeat'] as const satisfies Border[];

function noise(width: number, height: number, channels: number): Image {
  const random = randomNumbers(width * 7 + height);
  return { width, height, channels, data: Float32Array.from({ length: width * height * channels }, () => random()) };
}

describe.each([
  ['at once', undefined],
  ['part by part', LITTLE_ROOM],
] as const)('the kernel, %s', (_, budgetBytes) => {
  beforeEach(() => void useKernelTeam(new KernelTeam(loadKernel(65536), 1, budgetBytes ? { budgetBytes } : {})));
  afterEach(() => void useKernelTeam(null));

  it('blurs as plain code does, but for single precision', () => {
    for (const [width, height, channels] of SHAPES) {
      const image = noise(width, height, channels);
      for (const border of BORDERS) {
        for (const sigma of [0.4, 0.9, 3, 12]) {
          const expected = blurPlainly(image, sigma, border);
          const difference = largestDifference(blur(image, sigma, border).data, expected.data);
          // Means of numbers below 1, each off by 2⁻²⁴ in some passes.
          expect(difference, `${width} × ${height}, ${border}, ${sigma}`).toBeLessThan(1e-6);
        }
      }
    }
  });

  it('denoises as plain code does, up to what single precision knows of variances', () => {
    for (const [width, height, channels] of SHAPES) {
      const image = noise(width, height, channels);
      for (const border of BORDERS) {
        for (const sigma of [0.4, 3, 30]) {
          const own = denoise(image, sigma, 0.2, border);
          const team = useKernelTeam(null);
          const plain = denoise(image, sigma, 0.2, border);
          useKernelTeam(team);
          // 2⁻²³ of a variance, over the square of an edge.
          const difference = largestDifference(own.data, plain.data);
          expect(difference, `${width} × ${height}, ${border}, ${sigma}`).toBeLessThan(5e-6);
        }
      }
    }
  });

  it('leaves nothing of a bright spot behind where it does not reach', () => {
    const image = noise(200, 40, 1);
    const spot = { ...image, data: image.data.with(20 * 200 + 30, 1e7) };
    const [without, beside] = [blur(image, 2, 'clamp').data, blur(spot, 2, 'clamp').data];
    for (let x = 60; x < 200; x++) expect(beside[20 * 200 + x]).toBeCloseTo(without[20 * 200 + x]!, 5);
  });

  it('resamples as plain code does, but for single precision', () => {
    for (const [width, height, channels] of SHAPES) {
      const image = noise(width, height, channels);
      for (const size of [
        { width: 23, height: 17 },
        { width: 90, height: 75 },
        { width, height: 130 },
      ]) {
        for (const kernel of RESAMPLE_KERNELS) {
          for (const border of BORDERS) {
            const own = resample(image, size, kernel, border).data;
            const team = useKernelTeam(null);
            const plain = resample(image, size, kernel, border).data;
            useKernelTeam(team);
            // Some tens of products of numbers below 1.2, each off by 2⁻²⁴ at most.
            expect(largestDifference(own, plain)).toBeLessThan(2e-6);
          }
        }
      }
    }
  });
});
