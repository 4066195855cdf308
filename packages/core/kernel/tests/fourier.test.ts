import FFT from 'fft.js';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { heightFromNormal } from '../../src/derive/heightFromNormal.ts';
import { KernelTeam, useKernelTeam } from '../../src/kernel/kernelTeam.ts';
import { fourier2d } from '../../src/math/fourier.ts';
import { fourier2dInKernel } from '../../src/math/fourierInKernel.ts';
import { randomNumbers } from '../../src/testing/shapes.ts';
import { largestDifference, loadKernel } from './loadKernel.ts';

const some = (count: number, seed: number): Float64Array => {
  const random = randomNumbers(seed);
  return Float64Array.from({ length: count }, () => random() * 2 - 1);
};

describe('Fourier transforms in the kernel', () => {
  let team: KernelTeam;
  beforeEach(() => {
    team = new KernelTeam(loadKernel(65536), 1);
    useKernelTeam(team);
  });
  afterEach(() => void useKernelTeam(null));

  const inKernel = (re: Float64Array, im: Float64Array, width: number, height: number, inverse: boolean) =>
    team.within(() => {
      const picture = { re: team.lay(re), im: team.lay(im), width, height };
      fourier2dInKernel(team, picture, inverse);
      return [team.doubles(picture.re, re.length).slice(), team.doubles(picture.im, im.length).slice()] as const;
    });

  it('have the bytes of plain code, for lengths of every kind, there and back', () => {
    for (const [width, height] of [
      [16, 8],
      [1, 32],
      [15, 7],
      [64, 9],
      [2, 1],
      [97, 30],
    ] as const) {
      for (const inverse of [false, true]) {
        const [re, im] = [some(width * height, 1), some(width * height, 2)];
        const [ownRe, ownIm] = inKernel(re, im, width, height, inverse);
        fourier2d(re, im, width, height, inverse);
        expect(ownRe, `${width} × ${height}`).toEqual(re);
        expect(ownIm, `${width} × ${height}`).toEqual(im);
      }
    }
  });

  it('of a line are those of the package fft.js', () => {
    const size = 512;
    const [re, im] = [some(size, 3), some(size, 4)];
    const [ownRe, ownIm] = inKernel(re, im, size, 1, false);
    const fft = new FFT(size);
    const out = fft.createComplexArray();
    fft.transform(
      out,
      Array.from({ length: 2 * size }, (_, i) => (i % 2 === 0 ? re[i >> 1]! : im[i >> 1]!)),
    );
    expect(
      largestDifference(
        ownRe,
        ownRe.map((_, i) => out[2 * i]!),
      ),
    ).toBeLessThan(1e-11);
    expect(
      largestDifference(
        ownIm,
        ownIm.map((_, i) => out[2 * i + 1]!),
      ),
    ).toBeLessThan(1e-11);
  });

  it('find the same height of normals, whether they repeat or not', () => {
    const [width, height] = [48, 30];
    const data = Float32Array.from(some(width * height * 3, 5), (value, i) => (i % 3 === 2 ? 0.9 : 0.5 + value / 5));
    for (const repeats of [true, false]) {
      const own = heightFromNormal({ width, height, channels: 3, data }, repeats);
      useKernelTeam(null);
      expect(own).toEqual(heightFromNormal({ width, height, channels: 3, data }, repeats));
      useKernelTeam(team);
    }
  });
});
