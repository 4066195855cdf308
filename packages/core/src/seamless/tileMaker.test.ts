import { describe, expect, it } from 'vitest';
import type { Image } from '../image/image.ts';
import { meanOf } from '../image/planes.ts';
import { randomNumbers } from '../math/randomNumbers.ts';
import { sketchOf } from '../image/filter/halve.ts';
import { resample } from '../image/filter/resample.ts';
import { evenOut } from './lighting/evenOut.ts';
import { framePicture, WHOLE_PICTURE } from './framePicture.ts';
import { DEFAULT_TILE, TileMaker } from './tileMaker.ts';
import { layPatches, planPatches } from './patches/synthesise.ts';
import { grey, pebbles } from './testing/pebbles.ts';
import { tileSeam } from './tileSeam.ts';

describe('a tile put together from patches', () => {
  const source = pebbles(96, 3);
  const options = { patch: 0.35, overlap: 0.35, spread: 1, variety: 0.05, seed: 5 };

  it('shows no border, is larger than its source, and holds nothing that was not there', () => {
    const plan = planPatches(source, { width: 160, height: 128 }, options);
    const tile = layPatches(source, plan);
    // Edges of pebbles cross any line by chance, so the measure scatters; ends that do not fit are far beyond.
    expect(tileSeam(source, 'across')).toBeGreaterThan(3.5);
    for (const axis of ['across', 'up'] as const) expect(tileSeam(tile, axis)).toBeLessThan(1.8);
    const [low, high] = [Math.min(...source.data), Math.max(...source.data)];
    for (const value of tile.data) {
      expect(value).toBeGreaterThanOrEqual(low - 1e-6);
      expect(value).toBeLessThanOrEqual(high + 1e-6);
    }
    expect(meanOf(tile.data)).toBeCloseTo(meanOf(source.data), 1);
  });

  it('is the same again for the same seed and another for another; maps that are alike stay alike', () => {
    const size = { width: 96, height: 96 };
    const [one, again, other] = [options, options, { ...options, seed: 6 }].map((each) =>
      planPatches(source, size, each),
    );
    expect(layPatches(source, one!).data).toEqual(layPatches(source, again!).data);
    expect(layPatches(source, one!).data).not.toEqual(layPatches(source, other!).data);
    const twice: Image = { ...source, data: source.data.map((value) => value * 0.5) };
    const [first, second] = [layPatches(source, one!).data, layPatches(twice, one!).data];
    second.forEach((value, i) => expect(value).toBeCloseTo(first[i]! * 0.5, 5));
  });

  it('looks at a small size as it will at a large one: patches come from the same places', () => {
    const picture = resample(pebbles(96, 3), { width: 256, height: 256 }, 'cubic');
    const small = framePicture(sketchOf(picture), WHOLE_PICTURE, { width: 64, height: 64 });
    const plans = [128, 256].map((side) => {
      const size = { width: side * 1.5, height: side * 1.5 };
      const framed = framePicture(picture, WHOLE_PICTURE, { width: side, height: side });
      return planPatches(framed, size, { ...options, spread: 1.5 }, {}, small);
    });
    const [few, many] = plans.map(({ patches, size }) =>
      patches.map(({ to, from }) => [...to, ...from].map((place) => place / size.width)),
    );
    expect(few!.length).toBe(many!.length);
    const alike = few!.filter((places, i) => places.every((place, k) => Math.abs(place - many![i]![k]!) < 0.03));
    expect(alike.length).toBe(few!.length);
  });

  it('can be stopped, and refuses patches that do not fit', () => {
    const stop = (): never => {
      throw new Error('stopped');
    };
    expect(() => planPatches(source, { width: 96, height: 96 }, options, { check: stop })).toThrow('stopped');
    expect(() => planPatches(source, { width: 24, height: 96 }, options)).toThrow('smaller patches');
    expect(() => planPatches(source, { width: 96, height: 96 }, { ...options, patch: 0.05 })).toThrow('larger patches');
  });
});

describe('preparing a picture', () => {
  it('leaves texels as they are where the frame meets them', () => {
    const picture = pebbles(40, 8);
    expect(framePicture(picture, WHOLE_PICTURE, picture).data).toEqual(picture.data);
    const quarter = framePicture(
      picture,
      [
        [0.25, 0.5],
        [0.75, 0.5],
        [0.75, 1],
        [0.25, 1],
      ],
      { width: 20, height: 20 },
    );
    for (let y = 0; y < 20; y++) {
      for (let x = 0; x < 20; x++)
        expect(quarter.data[y * 20 + x]).toBeCloseTo(picture.data[(y + 20) * 40 + x + 10]!, 6);
    }
  });

  it('takes out perspective: lines that meet far away become parallel (Heckbert 1989)', () => {
    // A striped floor seen aslant: stripes run towards a point above the middle of the picture.
    const stripes = 8;
    const seen = grey(256, 256, (x, y) => {
      const width = 0.4 + 0.6 * ((y + 0.5) / 256);
      const across = ((x + 0.5) / 256 - 0.5) / width + 0.5;
      return Math.floor(across * stripes) % 2 === 0 ? 0.2 : 0.8;
    });
    const floor = framePicture(
      seen,
      [
        [0.3, 0],
        [0.7, 0],
        [1, 1],
        [0, 1],
      ],
      { width: 128, height: 128 },
    );
    for (let y = 4; y < 124; y++) {
      for (let k = 0; k < stripes; k++) {
        expect(floor.data[y * 128 + k * 16 + 8]).toBeCloseTo(k % 2 === 0 ? 0.2 : 0.8, 1);
      }
    }
    expect(() =>
      framePicture(
        seen,
        [
          [0, 0],
          [1, 1],
          [1, 0],
          [0, 1],
        ],
        { width: 8, height: 8 },
      ),
    ).toThrow('cross each other');
  });

  it('evens out light that changes slowly, keeps grain and the mean', () => {
    const random = randomNumbers(4);
    const grain = grey(96, 96, () => 0.3 + 0.1 * random());
    const lit: Image = { ...grain, data: grain.data.map((value, i) => value * (0.4 + (i % 96) / 96)) };
    const even = evenOut(lit, { radius: 0.25, light: 1, color: 0, shadows: 0, highlights: 0 });
    expect(meanOf(even.data)).toBeCloseTo(meanOf(lit.data), 4);
    const half = (image: Image, left: boolean): number =>
      meanOf([...image.data].filter((_, i) => i % 96 < 48 === left));
    expect(half(lit, false) / half(lit, true)).toBeGreaterThan(1.5);
    expect(half(even, false) / half(even, true)).toBeCloseTo(1, 1);
    // What is left is the grain.
    const middle = (image: Image): number[] => [...image.data].slice(48 * 96 + 30, 48 * 96 + 60);
    const [a, b] = [middle(even), middle(grain)].map((values) => values.map((value) => value / meanOf(values)));
    a!.forEach((value, i) => expect(value).toBeCloseTo(b![i]!, 1));
    const cast: Image = { width: 96, height: 96, channels: 3, data: new Float32Array(96 * 96 * 3) };
    for (let i = 0; i < 96 * 96; i++) cast.data.set([0.5, 0.5, 0.3 + 0.4 * ((i % 96) / 96)], i * 3);
    const { data } = evenOut(cast, { radius: 0.2, light: 0, color: 1, shadows: 0, highlights: 0 });
    expect(data[48 * 288 + 20 * 3 + 2]! / data[48 * 288 + 76 * 3 + 2]!).toBeCloseTo(1, 0.5);
  });
});

describe('a whole tile', () => {
  it('has the size that was asked for by every way, repeats, and keeps its maps on each other', () => {
    const color = pebbles(80, 2);
    const maps = [
      { kind: 'basecolor', image: color },
      { kind: 'height', image: { ...color, data: color.data.slice() } },
    ] as const;
    // One maker throughout, as when an artist tries one way after the other.
    const maker = new TileMaker(maps, 0);
    const method = (name: 'band' | 'mirror' | 'cut') => ({ method: name, width: 0.2, softness: 0.5, balance: 0.5 });
    for (const settings of [
      { way: 'ends', ends: { across: method('cut'), up: method('mirror') } },
      { way: 'ends', ends: { across: method('band'), up: method('cut') } },
      { way: 'patches', patches: { ...DEFAULT_TILE.patches, spread: 1 } },
    ] as const) {
      const [tile, height] = maker.make({ ...DEFAULT_TILE, ...settings, size: { width: 65, height: 50 } });
      expect([tile!.width, tile!.height]).toEqual([65, 50]);
      expect(height!.data).toEqual(tile!.data);
      for (const axis of ['across', 'up'] as const) expect(tileSeam(tile!, axis)).toBeLessThan(3);
    }
  });
});
