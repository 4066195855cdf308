import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { curvatureFromHeight, edgesFromHeight } from '../../src/derive/curvatureFromHeight.ts';
import { DEFAULT_NORMAL, normalFromHeight } from '../../src/derive/normalFromHeight.ts';
import { SLOPE_OPERATORS, slopes } from '../../src/derive/slopes.ts';
import type { Image } from '../../src/image/image.ts';
import { KernelTeam, useKernelTeam } from '../../src/kernel/kernelTeam.ts';
import { randomNumbers } from '../../src/testing/shapes.ts';
import { largestDifference, loadKernel } from './loadKernel.ts';

const noise = (width: number, height: number, seed: number): Image => {
  const random = randomNumbers(seed);
  return { width, height, channels: 1, data: Float32Array.from({ length: width * height }, () => random()) };
};

/** Of one part and of several, down to single rows and columns. */
const SIZES = [
  [37, 21],
  [4, 4],
  [1, 7],
  [2, 3],
  [6, 1],
  [1500, 1403],
] as const;

describe('slopes in the kernel', () => {
  beforeEach(() => void useKernelTeam(new KernelTeam(loadKernel(65536), 1)));
  afterEach(() => void useKernelTeam(null));

  it('are those of plain code, at borders of every kind, in one part and in several', () => {
    for (const [width, height] of [
      [37, 21],
      [4, 4],
      [1, 7],
      [6, 1],
      [1500, 1403],
    ] as const) {
      const x = noise(width, height, 1);
      for (const operator of SLOPE_OPERATORS) {
        for (const border of ['clamp', 'repeat'] as const) {
          const own = slopes(x, operator, border);
          const team = useKernelTeam(null);
          const plain = slopes(x, operator, border);
          const name = `${width} × ${height}, ${operator}, ${border}`;
          expect(largestDifference(own.across, plain.across), name).toBeLessThan(1e-6);
          expect(largestDifference(own.down, plain.down), name).toBeLessThan(1e-6);
          useKernelTeam(team);
        }
      }
    }
  });

  it('make the normals of plain code, of one scale and of several', () => {
    for (const [width, height] of SIZES) {
      const field = noise(width, height, 3);
      for (const border of ['clamp', 'repeat'] as const) {
        for (const scales of [
          [0.7, 0, 0, 0],
          [1, 0.5, 0, 0],
        ]) {
          const options = { ...DEFAULT_NORMAL, depth: 0.1, scales, y: scales[1] === 0 ? 'down' : 'up' } as const;
          const own = normalFromHeight(field, options, border).data;
          const team = useKernelTeam(null);
          const difference = largestDifference(own, normalFromHeight(field, options, border).data);
          // Slopes are known to 2⁻²⁴, those of blurred heights to a few of that, and 150 times as steep here.
          expect(difference, `${width} × ${height}, ${border}`).toBeLessThan(1e-5);
          useKernelTeam(team);
        }
      }
    }
  });

  it('make the curvature of plain code, in numbers and as edges', () => {
    for (const [width, height] of SIZES) {
      const field = noise(width, height, 4);
      for (const border of ['clamp', 'repeat'] as const) {
        const maps = (): Image[] => [
          curvatureFromHeight(field, 1 / width, 0, border),
          edgesFromHeight(field, { depth: 0.01, width: 0, radius: 0.1 }, border),
        ];
        const [curvature, edges] = maps();
        const team = useKernelTeam(null);
        const [plainCurvature, plainEdges] = maps();
        const name = `${width} × ${height}, ${border}`;
        expect(largestDifference(curvature!.data, plainCurvature!.data) / width, name).toBeLessThan(1e-6);
        // As exact as curvature is, which edges take a twentieth of.
        expect(largestDifference(edges!.data, plainEdges!.data) / width, name).toBeLessThan(2e-8);
        if (width > 30) expect(new Set(edges!.data).size, name).toBeGreaterThan(500);
        useKernelTeam(team);
      }
    }
  });
});
