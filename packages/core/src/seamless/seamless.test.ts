import { describe, expect, it } from 'vitest';
import type { Image } from '../image/image.ts';
import { randomNumbers } from '../testing/shapes.ts';
import { bandOverlap } from './ends/blendBand.ts';
import { cutOverlap } from './ends/cutOverlap.ts';
import { layOver } from './ends/overlap.ts';
import { histogramPreservingMix } from './ends/preserveHistogram.ts';
import { DEFAULT_ENDS, seamlessSet, type EndMethod, type Ends } from './seamlessSet.ts';
import { tileSeam } from './tileSeam.ts';

/** A picture of smooth spots that does not repeat. */
function spots(width: number, height: number, channels = 1): Image {
  const random = randomNumbers(11);
  const waves = Array.from({ length: 24 }, () => [random() * 0.6, random() * 0.6, random() * 7, random()] as const);
  const data = new Float32Array(width * height * channels);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      for (let c = 0; c < channels; c++) {
        const sum = waves.reduce((all, [a, b, phase, share]) => all + share * Math.sin(a * x + b * y + phase + c), 0);
        data[(y * width + x) * channels + c] = 0.5 + sum / 24;
      }
    }
  }
  return { width, height, channels, data };
}

const METHODS = ['band', 'cut', 'preserve', 'mirror'] as const satisfies EndMethod[];

/** The same ends on both axes. */
const both = (ends: Partial<Ends>): Record<'across' | 'up', Ends> => ({
  across: { ...DEFAULT_ENDS, softness: 1, ...ends },
  up: { ...DEFAULT_ENDS, softness: 1, ...ends },
});

const varianceOf = (values: ArrayLike<number>): number => {
  const list = Array.from(values);
  const mean = list.reduce((sum, value) => sum + value, 0) / list.length;
  return list.reduce((sum, value) => sum + (value - mean) ** 2, 0) / list.length;
};

describe('the cut of an overlap', () => {
  it('follows the one way where nothing shows, through an overlap of any width', () => {
    const random = randomNumbers(8);
    for (const width of [40, 300]) {
      const [along, rows] = [width * 3, 500];
      const data = Float32Array.from({ length: along * rows }, () => random());
      const wayAt = (j: number): number => width * (0.5 + 0.1 * Math.sin((4 * Math.PI * j) / rows));
      for (let j = 0; j < rows; j++) {
        for (let i = Math.ceil(wayAt(j)) - 6; i <= wayAt(j) + 6; i++) {
          data[j * along + along - width + i] = data[j * along + i]!;
        }
      }
      const { weights } = cutOverlap({ width: along, height: rows, channels: 1, data }, 'across', width);
      for (let j = 0; j < rows; j++) {
        const cut = weights.subarray(j * width, (j + 1) * width).findIndex((weight) => weight < 1);
        expect(Math.abs(cut - wayAt(j)), `${width}, ${j}`).toBeLessThan(7);
      }
    }
  });
});

describe('seamless maps', () => {
  const image = spots(96, 80);

  it.each(METHODS)('show no border (%s)', (method) => {
    expect(tileSeam(image, 'across')).toBeGreaterThan(2);
    const ends = both({ method, width: 0.25, softness: method === 'cut' ? 0.1 : 1 });
    const [tile] = seamlessSet([{ kind: 'basecolor', image }], 0, ends);
    expect([tile!.width, tile!.height]).toEqual(method === 'mirror' ? [192, 160] : [72, 60]);
    for (const axis of ['across', 'up'] as const) expect(tileSeam(tile!, axis)).toBeLessThan(1.6);
  });

  it('leave what does not change, and lose no texel beyond the overlap', () => {
    const constant: Image = { ...image, data: image.data.map(() => 0.3) };
    for (const method of METHODS) {
      const [tile] = seamlessSet([{ kind: 'height', image: constant }], 0, both({ method, width: 0.2 }));
      for (const value of tile!.data) expect(value).toBeCloseTo(0.3, 5);
    }
    const laid = layOver(image, cutOverlap(image, 'across', 20));
    for (let y = 0; y < 80; y++) {
      for (let x = 20; x < 76; x++) expect(laid.data[y * 76 + x]).toBe(image.data[y * 96 + x]);
    }
  });

  it('keep contrast where both ends show, if that is asked for (Heitz and Neyret 2018)', () => {
    const random = randomNumbers(5);
    // Grain without any likeness of neighbours: plain mixing of two halves halves its variance.
    const grain: Image = {
      width: 256,
      height: 64,
      channels: 1,
      data: Float32Array.from({ length: 256 * 64 }, () => random() ** 2),
    };
    const overlap = bandOverlap(grain, { axis: 'across', width: 128, softness: 1, balance: 0.5 });
    const half = overlap.weights.fill(0.5);
    const within = (of: Image): number[] => [...of.data].filter((_, i) => i % of.width < 128);
    const plain = within(layOver(grain, { ...overlap, weights: half }));
    const kept = within(layOver(grain, { ...overlap, weights: half }, { mix: histogramPreservingMix(grain) }));
    const whole = varianceOf(grain.data);
    expect(varianceOf(plain) / whole).toBeCloseTo(0.5, 1);
    expect(varianceOf(kept) / whole).toBeCloseTo(1, 1);
    // The histogram itself: quantiles are those of the grain.
    const quantiles = (values: ArrayLike<number>): number[] => {
      const sorted = Array.from(values).sort((a, b) => a - b);
      return [0.1, 0.25, 0.5, 0.75, 0.9].map((share) => sorted[Math.floor(share * sorted.length)]!);
    };
    quantiles(kept).forEach((value, i) => expect(value).toBeCloseTo(quantiles(grain.data)[i]!, 1));
  });

  it('take no hue that the picture does not have, where contrast is kept (Deliot and Heitz 2019)', () => {
    const random = randomNumbers(6);
    // All colours lie on a line from rust to verdigris, which are far from each other in every channel.
    const [rust, green] = [
      [0.45, 0.12, 0.03],
      [0.1, 0.4, 0.32],
    ] as const;
    const data = new Float32Array(200 * 40 * 3);
    for (let i = 0; i < data.length; i += 3) {
      const share = random() ** 3;
      for (let c = 0; c < 3; c++) data[i + c] = rust[c]! + (green[c]! - rust[c]!) * share;
    }
    const picture: Image = { width: 200, height: 40, channels: 3, data };
    const [tile] = seamlessSet([{ kind: 'basecolor', image: picture }], 0, both({ method: 'preserve', width: 0.4 }));
    for (let i = 0; i < tile!.data.length; i += 3) {
      const share = (tile!.data[i]! - rust[0]) / (green[0] - rust[0]);
      for (let c = 1; c < 3; c++) expect(tile!.data[i + c]).toBeCloseTo(rust[c]! + (green[c]! - rust[c]!) * share, 2);
    }
  });

  it('are cut alike: what is the same in two maps stays the same, normals stay of unit length, IDs stay themselves', () => {
    const colour = spots(64, 64, 3);
    const ids: Image = {
      width: 64,
      height: 64,
      channels: 1,
      data: Float32Array.from({ length: 4096 }, (_, i) => (i % 64 < 20 ? 0.2 : 0.8)),
    };
    const normal: Image = { ...colour, data: colour.data.slice() };
    for (let i = 0; i < normal.data.length; i += 3) {
      const [x, y] = [colour.data[i]! - 0.5, colour.data[i + 1]! - 0.5];
      normal.data.set([x + 0.5, y + 0.5, Math.sqrt(0.25 - x * x - y * y) + 0.5], i);
    }
    const maps = [
      { kind: 'basecolor', image: colour },
      { kind: 'emission', image: colour },
      { kind: 'normal', image: normal },
      { kind: 'id', image: ids },
    ] as const;
    const [first, second, bent, things] = seamlessSet(maps, 0, both({ method: 'band', width: 0.25 }));
    expect(second!.data).toEqual(first!.data);
    for (let i = 0; i < bent!.data.length; i += 3) {
      expect(Math.hypot(...[0, 1, 2].map((k) => bent!.data[i + k]! * 2 - 1))).toBeCloseTo(1, 5);
    }
    expect(new Set(things!.data)).toEqual(new Set([Math.fround(0.2), Math.fround(0.8)]));
  });

  it('are refused when ends are too wide, or maps of several sizes', () => {
    expect(() => seamlessSet([{ kind: 'height', image }], 0, both({ width: 0.6 }))).toThrow('Choose from 1 to 48');
    const maps = [
      { kind: 'height', image },
      { kind: 'ao', image: spots(32, 32) },
    ] as const;
    expect(() => seamlessSet(maps, 0, both({}))).toThrow('one size');
  });
});
