import { describe, expect, it } from 'vitest';
import { linearToOklab } from '../color/oklab.ts';
import { linearToSrgb, srgbToLinear } from '../color/srgb.ts';
import type { Image } from '../image/image.ts';
import { randomNumbers } from '../math/randomNumbers.ts';
import { combineImages, type CombineLayer } from './combineImages.ts';
import { heightShares } from './heightBlend.ts';
import { matchTones } from './matchTones.ts';

const SIDE = 64;
const size = { width: SIDE, height: SIDE };
const LAYER: CombineLayer = {
  ...{ image: 0, pick: null, adjust: [], match: null, blend: 'normal', normalBlend: 'replace' },
  ...{ opacity: 1, mask: null },
};

const random = randomNumbers(3);
const imageOf = (channels: number, value: (i: number, c: number) => number, colorSpace?: 'srgb'): Image => ({
  ...size,
  channels,
  data: Float32Array.from({ length: SIDE * SIDE * channels }, (_, i) => value(Math.floor(i / channels), i % channels)),
  ...(colorSpace ? { colorSpace } : {}),
});
/** Colours of skewed, different distributions. */
const photo = (low: number, high: number, power: number): Image =>
  imageOf(3, (_, c) => srgbToLinear(low + (high - low) * random() ** (power + c * 0.3)), 'srgb');
const grey = (value: number | ((i: number) => number)): Image =>
  imageOf(1, typeof value === 'number' ? () => value : value);

const lightness = ({ data }: Image): number[] =>
  Array.from({ length: SIDE * SIDE }, (_, i) => linearToOklab(data[i * 3]!, data[i * 3 + 1]!, data[i * 3 + 2]!)[0]);
const mean = (values: readonly number[]): number => values.reduce((sum, value) => sum + value, 0) / values.length;
const deviation = (values: readonly number[]): number =>
  Math.sqrt(mean(values.map((value) => (value - mean(values)) ** 2)));

describe('tones of one image for another', () => {
  const [dark, light] = [photo(0.05, 0.5, 1.6), photo(0.3, 0.95, 0.7)];

  it('have the mean and the deviation of the other in each axis (Reinhard and others 2001)', () => {
    const matched = lightness(matchTones(dark, light, 'mean', 1));
    expect(mean(matched)).toBeCloseTo(mean(lightness(light)), 2);
    expect(deviation(matched)).toBeCloseTo(deviation(lightness(light)), 2);
  });

  it('have its whole distribution: every quantile (histogram specification)', () => {
    const sorted = (image: Image): number[] => lightness(image).sort((a, b) => a - b);
    const [matched, wanted] = [sorted(matchTones(dark, light, 'histogram', 1)), sorted(light)];
    for (let at = 10; at < SIDE * SIDE; at += 200) expect(matched[at]).toBeCloseTo(wanted[at]!, 2);
  });

  it('keep the order of values, and leave an image that is matched with itself or not at all', () => {
    const ramp = grey((i) => i / (SIDE * SIDE));
    const { data } = matchTones(
      ramp,
      grey(() => random() ** 3),
      'histogram',
      1,
    );
    for (let i = 1; i < data.length; i++) expect(data[i]!).toBeGreaterThanOrEqual(data[i - 1]!);
    const same = matchTones(light, light, 'histogram', 1).data;
    same.forEach((value, i) => expect(Math.abs(value - light.data[i]!)).toBeLessThan(2e-3));
    expect(matchTones(light, dark, 'histogram', 0)).toBe(light);
  });

  it('take even areas to even areas', () => {
    const flat = grey((i) => (i % 2 === 0 ? 0.2 : 0.7));
    const values = new Set(
      matchTones(
        flat,
        grey(() => random()),
        'histogram',
        1,
      ).data,
    );
    expect(values.size).toBe(2);
    // Halves of an even distribution lie about a quarter and three quarters.
    const [low, high] = [...values].sort();
    expect(low).toBeCloseTo(0.25, 1);
    expect(high).toBeCloseTo(0.75, 1);
  });
});

describe('a blend by height', () => {
  it('shows the higher of both, and both where they are about as high', () => {
    const shares = heightShares(Float32Array.of(0.2, 0.8, 0.5), Float32Array.of(0.6, 0.3, 0.5), 0, 0.1);
    expect([...shares]).toEqual([1, 0, 0.5]);
  });

  it('fills from the lowest up as it is raised', () => {
    const below = Float32Array.from({ length: 100 }, (_, i) => i / 99);
    let before = 0;
    for (const raise of [-1, -0.5, 0, 0.5, 1]) {
      const shares = heightShares(below.slice(), new Float32Array(100).fill(0.5), raise, 0);
      const covered = mean([...shares]);
      expect(covered).toBeGreaterThanOrEqual(before);
      expect(covered).toBeCloseTo(Math.max(0, Math.min(1, 0.5 + raise)), 1);
      for (let i = 1; i < 100; i++) expect(shares[i]!).toBeLessThanOrEqual(shares[i - 1]!);
      before = covered;
    }
  });
});

describe('maps of channels and images', () => {
  const options = { size, border: 'repeat' } as const;

  it('take one channel as it is stored: of numbers, and of colours as they are on screen', () => {
    const orm = imageOf(3, (i, c) => ((i + c * 7) % 11) / 10);
    const layers = [{ ...LAYER, pick: { channel: 1 } }];
    const { data, channels } = combineImages([orm], { ...options, kind: 'roughness', layers });
    expect(channels).toBe(1);
    data.forEach((value, i) => expect(value).toBeCloseTo(orm.data[i * 3 + 1]!, 6));
    const photograph = photo(0, 1, 1);
    const red = combineImages([photograph], {
      ...options,
      kind: 'mask',
      layers: [{ ...LAYER, pick: { channel: 0, invert: true } }],
    });
    red.data.forEach((value, i) => expect(value).toBeCloseTo(1 - linearToSrgb(photograph.data[i * 3]!), 3));
  });

  it('come out as what they are of: a grey ramp becomes colours, colours become their tone', () => {
    const ramp = [
      {
        do: 'ramp',
        stops: [
          { at: 0, color: '#102030' },
          { at: 1, color: '#d0c0b0' },
        ],
      },
    ] as const;
    const half = grey((i) => (i < (SIDE * SIDE) / 2 ? 0 : 1));
    const colored = combineImages([half], { ...options, kind: 'basecolor', layers: [{ ...LAYER, adjust: ramp }] });
    const shown = (at: number): number[] =>
      [0, 1, 2].map((c) => Math.round(linearToSrgb(colored.data[at * 3 + c]!) * 255));
    expect([shown(0), shown(SIDE * SIDE - 1)]).toEqual([
      [0x10, 0x20, 0x30],
      [0xd0, 0xc0, 0xb0],
    ]);
    const toned = combineImages([colored], { ...options, kind: 'height', layers: [LAYER] });
    // Tone: luminance (Rec. 709) through the sRGB curve.
    const luminance = 0.2126 * colored.data[0]! + 0.7152 * colored.data[1]! + 0.0722 * colored.data[2]!;
    expect(toned.data[0]).toBeCloseTo(linearToSrgb(luminance), 3);
  });

  it('blend by the modes of W3C Compositing, by opacity and by a mask', () => {
    const images = [grey(0.5), grey(0.4), grey((i) => (i % SIDE < SIDE / 2 ? 0 : 1))];
    const layers = [
      LAYER,
      {
        ...LAYER,
        image: 1,
        blend: 'multiply',
        opacity: 0.5,
        mask: { by: 'image', image: 2, pick: null, adjust: [] },
      } as const,
    ];
    const { data } = combineImages(images, { ...options, kind: 'mask', layers });
    expect(data[0]).toBeCloseTo(0.5, 6);
    expect(data[SIDE - 1]).toBeCloseTo(0.5 + (0.2 - 0.5) * 0.5, 6);
  });

  it('of normals stay of length one, and add up as detail (Barré-Brisebois and Hill 2012)', () => {
    const tilted = (degrees: number): Image => {
      const angle = (degrees * Math.PI) / 180;
      const normal = [Math.sin(angle) / 2 + 0.5, 0.5, Math.cos(angle) / 2 + 0.5];
      return imageOf(3, (_, c) => normal[c]!);
    };
    const images = [tilted(20), tilted(10)];
    const tiltOf = (normalBlend: 'detail' | 'replace', opacity: number): number => {
      const layers = [LAYER, { ...LAYER, image: 1, normalBlend, opacity }];
      const { data } = combineImages(images, { ...options, kind: 'normal', layers });
      const [x, y, z] = [0, 1, 2].map((c) => data[c]! * 2 - 1) as [number, number, number];
      expect(Math.hypot(x, y, z)).toBeCloseTo(1, 5);
      return (Math.atan2(x, z) * 180) / Math.PI;
    };
    expect(tiltOf('detail', 1)).toBeCloseTo(30, 3);
    expect(tiltOf('replace', 1)).toBeCloseTo(10, 3);
    expect(tiltOf('replace', 0.5)).toBeCloseTo(15, 1);
  });

  it('read normals with Y down as those with Y up that lie below them, and heights over their range', () => {
    const normal = (y: number, space: 'up' | 'down'): Image => ({
      ...imageOf(3, (_, c) => [0.5, 0.5 + y, 0.9][c]!),
      convention: { of: 'direction', space: 'tangent', y: space, axes: 'xyz' },
    });
    const layers = [LAYER, { ...LAYER, image: 1, opacity: 0.5 }];
    const [up, down] = [normal(0.2, 'up'), normal(-0.2, 'down')];
    const { data, convention } = combineImages([up, down], { ...options, kind: 'normal', layers });
    const [alone] = [combineImages([up], { ...options, kind: 'normal', layers: [LAYER] })];
    data.forEach((value, i) => expect(value).toBeCloseTo(alone.data[i]!, 5));
    expect(convention).toMatchObject({ y: 'up' });
    const baked: Image = { ...grey((i) => (i % 2) * 6 - 2), range: [-2, 4] };
    const height = combineImages([baked], { ...options, kind: 'mask', layers: [LAYER] });
    expect(new Set(height.data)).toEqual(new Set([0, 1]));
  });

  it('put images of other sizes to theirs, and say which is missing', () => {
    const small = { ...grey(0.3), width: 8, height: 8, data: new Float32Array(64).fill(0.3) };
    const { data, width } = combineImages([small], { ...options, kind: 'mask', layers: [LAYER] });
    expect(width).toBe(SIDE);
    expect(data.every((value) => Math.abs(value - 0.3) < 1e-6)).toBe(true);
    expect(() => combineImages([], { ...options, kind: 'mask', layers: [LAYER] })).toThrow(
      /image of this ticket is missing/,
    );
  });
});
