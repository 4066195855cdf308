import { describe, expect, it } from 'vitest';
import type { Image } from '../image/image.ts';
import { meanOf } from '../image/planes.ts';
import { randomNumbers } from '../math/randomNumbers.ts';
import { sketchOf } from '../image/filter/halve.ts';
import { resample } from '../image/filter/resample.ts';
import { bandedCut } from './ends/bandedCut.ts';
import { evenOut } from './evenOut.ts';
import { framePicture, WHOLE_PICTURE } from './framePicture.ts';
import { DEFAULT_TILE, TileMaker } from './tileMaker.ts';
import { CutSide, minCut } from './patches/minCut.ts';
import { layPatches, planPatches } from './patches/synthesise.ts';
import { tileSeam } from './tileSeam.ts';
import { planTouchUp, touchUp } from './patches/touchUp.ts';

const grey = (width: number, height: number, of: (x: number, y: number) => number): Image => ({
  width,
  height,
  channels: 1,
  data: Float32Array.from({ length: width * height }, (_, i) => of(i % width, Math.floor(i / width))),
});

/** Pebbles: lumps of several tones scattered about. */
function pebbles(side: number, seed: number): Image {
  const random = randomNumbers(seed);
  const stones = Array.from(
    { length: (side * side) / 60 },
    () => [random() * side, random() * side, random()] as const,
  );
  return grey(side, side, (x, y) => {
    let [least, tone] = [Infinity, 0];
    for (const [sx, sy, value] of stones) {
      const far = (sx - x) ** 2 + (sy - y) ** 2;
      if (far < least) [least, tone] = [far, value];
    }
    return 0.2 + 0.6 * tone - Math.min(0.2, least / 300);
  });
}

describe('the minimum cut', () => {
  it('costs what the best of all cuts costs (exhaustive search; Kwatra et al. 2003)', () => {
    const random = randomNumbers(17);
    for (let round = 0; round < 40; round++) {
      const [width, height] = [4, 3];
      const difference = Int32Array.from({ length: width * height }, () => Math.floor(random() * 30));
      const side = new Uint8Array(width * height);
      for (let y = 0; y < height; y++) {
        side[y * width] = CutSide.old;
        side[y * width + width - 1] = CutSide.fresh;
      }
      if (round % 3 === 0) side[5] = CutSide.outside;
      const cost = (label: (at: number) => number): number => {
        let sum = 0;
        for (let at = 0; at < width * height; at++) {
          for (const [next, there] of [
            [at + 1, at % width < width - 1],
            [at + width, at + width < width * height],
          ] as const) {
            if (!there || side[at] === CutSide.outside || side[next] === CutSide.outside) continue;
            if (label(at) !== label(next)) sum += 1 + difference[at]! + difference[next]!;
          }
        }
        return sum;
      };
      const free = [...side.keys()].filter((at) => side[at] === CutSide.either);
      let best = Infinity;
      for (let bits = 0; bits < 1 << free.length; bits++) {
        best = Math.min(
          best,
          cost((at) =>
            side[at] === CutSide.either ? (bits >> free.indexOf(at)) & 1 : side[at] === CutSide.fresh ? 1 : 0,
          ),
        );
      }
      const cut = minCut(difference, side, width, height);
      for (let at = 0; at < cut.length; at++) {
        if (side[at] === CutSide.old) expect(cut[at]).toBe(0);
        if (side[at] === CutSide.fresh) expect(cut[at]).toBe(1);
      }
      expect(cost((at) => cut[at]!)).toBe(best);
    }
  });
});

describe('the cut within a band', () => {
  it('costs hardly more than the best of all, and less than a straight one', () => {
    const [width, height] = [180, 90];
    const rough = pebbles(180, 9);
    const difference = Int32Array.from({ length: width * height }, (_, at) => Math.round(rough.data[at]! * 400));
    const side = new Uint8Array(width * height);
    for (let y = 0; y < height; y++) {
      side[y * width] = CutSide.old;
      side[y * width + width - 1] = CutSide.fresh;
    }
    const cost = (label: (at: number) => number): number => {
      let sum = 0;
      for (let at = 0; at < width * height; at++) {
        for (const next of [at % width < width - 1 ? at + 1 : at, at + width < width * height ? at + width : at]) {
          if (label(at) !== label(next)) sum += 1 + difference[at]! + difference[next]!;
        }
      }
      return sum;
    };
    const [exact, banded] = [minCut, bandedCut].map((cut) => {
      const found = cut(difference, side, width, height);
      return cost((at) => found[at]!);
    });
    expect(banded! / exact!).toBeGreaterThanOrEqual(1);
    expect(banded! / exact!).toBeLessThan(1.1);
    expect(banded!).toBeLessThan(cost((at) => (at % width < width / 2 ? 0 : 1)) * 0.8);
  });
});

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
    const even = evenOut(lit, { radius: 0.25, light: 1, color: 0 });
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
    const { data } = evenOut(cast, { radius: 0.2, light: 0, color: 1 });
    expect(data[48 * 288 + 20 * 3 + 2]! / data[48 * 288 + 76 * 3 + 2]!).toBeCloseTo(1, 0.5);
  });
});

describe('touching up', () => {
  it('paints a spot out over the border, with what lies elsewhere', () => {
    const spot = grey(32, 32, (x, y) => (Math.hypot(Math.min(x, 32 - x), Math.min(y, 32 - y)) < 4 ? 1 : 0.25));
    const { data } = touchUp(spot, planTouchUp(spot, [{ to: [0, 0], from: [0.5, 0.5], radius: 0.2, softness: 0.2 }]));
    for (const value of data) expect(value).toBeCloseTo(0.25, 6);
  });

  it('shows its edge less than a circle would, and keeps maps on each other', () => {
    const stones = pebbles(96, 12);
    const spot = { to: [0.3, 0.4], from: [0.75, 0.7], radius: 0.2, softness: 0.7 } as const;
    const jump = (softness: number): number => {
      const [painted] = planTouchUp(stones, [{ ...spot, softness }]);
      const { data } = touchUp(stones, [painted!]);
      // Of neighbours on both sides of the edge, beside what the texture itself jumps there.
      const { across, up, middle, shows } = painted!;
      const wide = 2 * across + 1;
      let [sum, count] = [0, 0];
      for (let i = 0; i < shows.length - 1; i++) {
        if ((i + 1) % wide === 0 || shows[i]! >= 0.5 === shows[i + 1]! >= 0.5) continue;
        const at = (middle[1] - up + Math.floor(i / wide)) * 96 + middle[0] - across + (i % wide);
        sum += Math.abs(data[at]! - data[at + 1]!);
        count++;
      }
      return sum / count;
    };
    expect(jump(0.7)).toBeLessThan(jump(0) * 0.75);
    const twice: Image = { ...stones, data: stones.data.map((value) => value * 0.5) };
    const plan = planTouchUp(stones, [spot]);
    const [first, second] = [touchUp(stones, plan), touchUp(twice, plan)];
    second.data.forEach((value, i) => expect(value).toBeCloseTo(first.data[i]! * 0.5, 6));
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
