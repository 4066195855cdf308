import { converter, differenceEuclidean } from 'culori';
import FFT from 'fft.js';
import { describe, expect, it } from 'vitest';
import { adjust } from '../../adjust/adjust.ts';
import { toneCurve } from '../../adjust/curve.ts';
import { denoise } from '../../adjust/denoise.ts';
import { linearToOklab, oklabToLinear } from '../../color/oklab.ts';
import { randomNumbers } from '../../math/randomNumbers.ts';
import { repetitionOf } from '../../measure/repetition.ts';
import { blur } from './blur.ts';
import { fourier2d, fourierPlan } from '../../math/fourier.ts';
import type { Image } from '../image.ts';
import { linearToSrgb, srgbToLinear } from '../../color/srgb.ts';

const grey = (width: number, height: number, of: (x: number, y: number) => number): Image => ({
  width,
  height,
  channels: 1,
  data: Float32Array.from({ length: width * height }, (_, i) => of(i % width, Math.floor(i / width))),
});

describe('the Fourier transform', () => {
  it('is that of the package fft.js for powers of two, and the sum by definition for other lengths', () => {
    const random = randomNumbers(8);
    for (const size of [2, 16, 256]) {
      const [re, im] = [0, 1].map(() => Float64Array.from({ length: size }, () => random() - 0.5)) as [
        Float64Array,
        Float64Array,
      ];
      const fft = new FFT(size);
      const [input, output] = [fft.createComplexArray(), fft.createComplexArray()];
      for (let i = 0; i < size; i++) [input[2 * i], input[2 * i + 1]] = [re[i]!, im[i]!];
      fft.transform(output, input);
      fourierPlan(size).run(re, im);
      for (let i = 0; i < size; i++) {
        expect(re[i]).toBeCloseTo(output[2 * i]!, 9);
        expect(im[i]).toBeCloseTo(output[2 * i + 1]!, 9);
      }
    }
    for (const size of [1, 3, 30, 97]) {
      const [re, im] = [0, 1].map(() => Float64Array.from({ length: size }, () => random() - 0.5)) as [
        Float64Array,
        Float64Array,
      ];
      const [sumRe, sumIm] = [new Float64Array(size), new Float64Array(size)];
      for (let k = 0; k < size; k++) {
        for (let n = 0; n < size; n++) {
          const angle = (-2 * Math.PI * k * n) / size;
          sumRe[k]! += re[n]! * Math.cos(angle) - im[n]! * Math.sin(angle);
          sumIm[k]! += re[n]! * Math.sin(angle) + im[n]! * Math.cos(angle);
        }
      }
      fourierPlan(size).run(re, im);
      for (let k = 0; k < size; k++) {
        expect(re[k]).toBeCloseTo(sumRe[k]!, 9);
        expect(im[k]).toBeCloseTo(sumIm[k]!, 9);
      }
    }
  });

  it('comes back, in two dimensions of any size', () => {
    const random = randomNumbers(1);
    const data = Float64Array.from({ length: 24 * 35 }, () => random());
    const [re, im] = [data.slice(), new Float64Array(data.length)];
    fourier2d(re, im, 24, 35);
    expect(re[0]).toBeCloseTo(
      data.reduce((sum, value) => sum + value, 0),
      8,
    );
    fourier2d(re, im, 24, 35, true);
    data.forEach((value, i) => expect(re[i]).toBeCloseTo(value, 10));
  });
});

describe('blurring', () => {
  it('has the variance that was asked for, keeps the sum, and is about a bell curve', () => {
    for (const sigma of [0.4, 1, 3.7, 20]) {
      const size = 301;
      const { data } = blur(
        grey(size, 1, (x) => (x === 150 ? 1 : 0)),
        sigma,
        'clamp',
      );
      const sum = data.reduce((all, value) => all + value, 0);
      const variance = data.reduce((all, value, x) => all + value * (x - 150) ** 2, 0);
      expect(sum).toBeCloseTo(1, 4);
      expect(variance).toBeCloseTo(sigma * sigma, 1);
      if (sigma >= 3) {
        const peak = 1 / (sigma * Math.sqrt(2 * Math.PI));
        data.forEach((value, x) => {
          expect(Math.abs(value - peak * Math.exp(-((x - 150) ** 2) / (2 * sigma * sigma)))).toBeLessThan(0.04 * peak);
        });
      }
    }
  });

  it('wraps where the picture repeats, also when it is wider than that, and keeps a constant', () => {
    const picture = grey(16, 8, (x, y) => (x === 0 && y === 0 ? 1 : 0));
    const soft = blur(picture, 2, 'repeat');
    expect(soft.data[15]).toBeCloseTo(soft.data[1]!, 6);
    expect(soft.data[16]).toBeCloseTo(soft.data[16 * 7]!, 6);
    for (const sigma of [60, 128, 900]) {
      for (const value of blur(picture, sigma, 'repeat').data) expect(value).toBeCloseTo(1 / 128, 4);
    }
    for (const value of blur(
      grey(9, 5, () => 0.3),
      4,
      'clamp',
    ).data)
      expect(value).toBeCloseTo(0.3, 5);
  });
});

describe('OKLab', () => {
  it('is that of culori, there and back (Ottosson 2020)', () => {
    const random = randomNumbers(6);
    const reference = converter('oklab');
    for (let i = 0; i < 200; i++) {
      const [r, g, b] = [random(), random(), random()];
      const own = linearToOklab(r, g, b);
      const other = reference({ mode: 'lrgb', r, g, b });
      [other.l, other.a, other.b].forEach((value, k) => expect(own[k]).toBeCloseTo(value, 6));
      oklabToLinear(own).forEach((value, k) => expect(value).toBeCloseTo([r, g, b][k]!, 5));
    }
    const [one, two] = [linearToOklab(0.2, 0.4, 0.1), linearToOklab(0.3, 0.1, 0.1)];
    const distance = differenceEuclidean('oklab')(
      { mode: 'lrgb', r: 0.2, g: 0.4, b: 0.1 },
      { mode: 'lrgb', r: 0.3, g: 0.1, b: 0.1 },
    );
    expect(Math.hypot(...one.map((value, k) => value - two[k]!))).toBeCloseTo(distance, 5);
  });
});

describe('adjustments', () => {
  const values = grey(5, 1, (x) => x / 4);

  it('do to values what they say', () => {
    const result = (...steps: Parameters<typeof adjust>[1]): number[] =>
      [...adjust(values, steps, 'clamp').data].map((value) => Math.round(value * 1000) / 1000);
    expect(result({ do: 'invert' })).toEqual([1, 0.75, 0.5, 0.25, 0]);
    expect(result({ do: 'levels', black: 0.25, white: 0.75, gamma: 1 })).toEqual([0, 0, 0.5, 1, 1]);
    expect(result({ do: 'levels', black: 0, white: 1, gamma: 2 })[1]).toBe(0.5);
    expect(result({ do: 'clamp', low: 0.3, high: 0.6 })).toEqual([0.3, 0.3, 0.5, 0.6, 0.6]);
    expect(result({ do: 'remap', low: 0.2, high: 0.4 })).toEqual([0.2, 0.25, 0.3, 0.35, 0.4]);
    expect(result({ do: 'contrast', amount: 0.5 })).toEqual([0.25, 0.375, 0.5, 0.625, 0.75]);
    expect(result({ do: 'invert' }, { do: 'invert' })).toEqual([0, 0.25, 0.5, 0.75, 1]);
  });

  it('equalise: all tenths of the values are about as frequent', () => {
    const random = randomNumbers(3);
    const { data } = adjust(
      grey(100, 100, () => random() ** 3),
      [{ do: 'equalise', amount: 1 }],
      'clamp',
    );
    const counts = new Array<number>(10).fill(0);
    for (const value of data) counts[Math.min(9, Math.floor(value * 10))]!++;
    for (const count of counts) expect(Math.abs(count - 1000)).toBeLessThan(120);
  });

  it('treat colours as the eye takes them: middle grey on screen stays under contrast, hue turns without changing lightness', () => {
    const color: Image = { width: 1, height: 1, channels: 3, data: Float32Array.of(0.5, 0.2, 0.1), colorSpace: 'srgb' };
    const middle: Image = { ...color, data: new Float32Array(3).fill(srgbToLinear(0.5)) };
    for (const value of adjust(middle, [{ do: 'contrast', amount: 2 }], 'clamp').data) {
      expect(linearToSrgb(value)).toBeCloseTo(0.5, 5);
    }
    const turned = adjust(color, [{ do: 'hue', degrees: 60 }], 'clamp').data;
    const [before, after] = [linearToOklab(0.5, 0.2, 0.1), linearToOklab(turned[0]!, turned[1]!, turned[2]!)];
    expect(after[0]).toBeCloseTo(before[0], 3);
    expect(Math.hypot(after[1], after[2])).toBeCloseTo(Math.hypot(before[1], before[2]), 3);
  });

  it('curves go through their points and never swing beyond them (Fritsch and Carlson 1980)', () => {
    const points = [
      [0, 0],
      [0.3, 0.1],
      [0.35, 0.8],
      [0.7, 0.82],
      [1, 1],
    ] as const;
    const curve = toneCurve(points);
    for (const [from, to] of points) expect(curve(from)).toBeCloseTo(to, 9);
    for (let x = 0; x < 1; x += 0.01) expect(curve(x + 0.01)).toBeGreaterThanOrEqual(curve(x) - 1e-12);
  });

  it('denoise smooths grain and keeps an edge (He, Sun and Tang 2013)', () => {
    const random = randomNumbers(2);
    const noisy = grey(64, 64, (x) => (x < 32 ? 0.2 : 0.8) + (random() - 0.5) * 0.1);
    const { data } = denoise(noisy, 3, 0.12, 'clamp');
    const spread = (from: number, to: number): number => {
      const part = [...data].filter((_, i) => i % 64 >= from && i % 64 < to);
      const mean = part.reduce((sum, value) => sum + value, 0) / part.length;
      return Math.sqrt(part.reduce((sum, value) => sum + (value - mean) ** 2, 0) / part.length);
    };
    // Uniform grain of width 0.1 has a deviation of 0.1 / √12.
    expect(spread(4, 16)).toBeLessThan((0.1 / Math.sqrt(12)) * 0.35);
    const step = data[32 * 64 + 33]! - data[32 * 64 + 30]!;
    expect(step).toBeGreaterThan(0.45);
  });
});

describe('repetition', () => {
  it('finds a tile within the tile, and a spot that stands out', () => {
    const random = randomNumbers(12);
    const grain = Array.from({ length: 64 * 64 }, () => random());
    const twice = grey(128, 128, (x, y) => grain[(y % 64) * 64 + (x % 64)]!);
    const { likeness, shift } = repetitionOf(twice);
    expect(likeness).toBeGreaterThan(0.9);
    expect(shift.every((share) => share === 0 || share === 0.5)).toBe(true);
    const alone = grey(128, 128, (x, y) => (Math.hypot(x - 90, y - 40) < 6 ? 1 : 0.4 + random() * 0.1));
    const found = repetitionOf(alone);
    expect(found.likeness).toBeLessThan(0.2);
    expect(found.telltales[0]).toMatchObject({ why: 'stands out' });
    expect(found.telltales[0]!.x).toBeCloseTo(90.5 / 128, 1);
    expect(found.telltales[0]!.y).toBeCloseTo(40.5 / 128, 1);
  });
});
