import { describe, expect, it } from 'vitest';
import type { Image } from '../image/image.ts';
import { resample } from '../image/filter/resample.ts';
import { randomNumbers } from '../math/randomNumbers.ts';
import { DEFAULT_LAYER, fieldImage } from '../pattern/index.ts';
import { DEFAULT_NORMAL } from './normalFromHeight.ts';
import { DEFAULT_TONE_HEIGHT } from './heightFromTone.ts';
import { MapDeriver, type DeriveOptions } from './mapDeriver.ts';
import { depthOfSteepness, MOST_DEPTH, steepnessOf } from './steepness.ts';
import { pickedMap, type PickedMap } from './toneMask.ts';

const NEUTRAL: PickedMap = { base: 0.5, tone: 0, saturation: 0, cavity: 0, picks: [], detail: 0 };
const OPTIONS: DeriveOptions = {
  depth: null,
  steepness: 45,
  height: DEFAULT_TONE_HEIGHT,
  normal: DEFAULT_NORMAL,
  ao: { reach: 0.05, slices: 4 },
  edges: { width: 0, radius: 0.02 },
  cavity: { width: 0.02, strength: 1 },
  displacement: { tileWidth: 1000, middle: 0.5 },
  roughness: NEUTRAL,
  metallic: NEUTRAL,
  specular: NEUTRAL,
  opacity: NEUTRAL,
  adjust: {},
};

/** Stones with dark joints as a camera sees them: sharp edges, and noise in every texel. */
function photograph(side: number): Image {
  const layers = [
    { ...DEFAULT_LAYER, scale: 24, octaves: 6, levels: [-0.5, 1.5] as const },
    { ...DEFAULT_LAYER, kind: 'cracks' as const, scale: 9, line: 0.06, invert: true, blend: 'multiply' as const },
  ];
  const { data } = fieldImage({ layers, wrap: 'none', samples: 1 }, { width: side, height: side });
  const random = randomNumbers(5);
  const noisy = data.map((value) => Math.max(0, Math.min(1, value + (random() + random() - 1) * 0.04)));
  return { width: side, height: side, channels: 1, data: noisy, colorSpace: 'srgb' };
}

/** Angles between normals and the plane's own, in degrees, in ascending order. */
const tiltsOf = ({ data }: Image): Float64Array =>
  Float64Array.from({ length: data.length / 3 }, (_, i) => {
    const [x, y, z] = [data[i * 3]! * 2 - 1, data[i * 3 + 1]! * 2 - 1, data[i * 3 + 2]! * 2 - 1];
    return (Math.atan2(Math.hypot(x, y), z) * 180) / Math.PI;
  }).sort();
const mean = (values: ArrayLike<number>): number =>
  Array.from(values).reduce((sum, value) => sum + value, 0) / values.length;

describe('the relief of a photograph', () => {
  const large = photograph(1500);
  const small = { ...large, ...resample(large, { width: 512, height: 512 }, 'mitchell', 'clamp') };
  const [atLarge, atSmall] = [large, small].map((image) =>
    new MapDeriver(image, 'color', true).make('normal', OPTIONS),
  );

  it('is as steep whatever its resolution: at 512 and 1500 px the mean tilt is within 10 %', () => {
    const reduced = resample(atLarge!, { width: 512, height: 512 }, 'linear', 'repeat');
    const ratio = mean(tiltsOf(reduced)) / mean(tiltsOf(atSmall!));
    expect(Math.abs(ratio - 1)).toBeLessThan(0.1);
  });

  it('has no walls by default', () => {
    for (const normal of [atLarge!, atSmall!]) {
      const tilts = tiltsOf(normal);
      expect(tilts[Math.floor(tilts.length * 0.98)]).toBeLessThan(55);
      expect(tilts.at(-1)).toBeLessThan(80);
      expect(mean(tilts)).toBeGreaterThan(4);
    }
  });
});

describe('the steepness of a height field', () => {
  const ramps = (side: number): Image => ({
    ...{ width: side, height: side, channels: 1 },
    // Up and down four times: slopes of eight a tile width everywhere.
    data: Float32Array.from({ length: side * side }, (_, i) => Math.abs((((((i % side) + 0.5) / side) * 8) % 2) - 1)),
  });

  it.each([256, 512, 1300])('is known within one per cent for ramps of %i texels, and turns into a depth', (side) => {
    expect(Math.abs(steepnessOf(ramps(side), 'repeat') / 8 - 1)).toBeLessThan(0.01);
    expect(depthOfSteepness(ramps(side), 10, 'repeat')).toBeCloseTo(Math.tan(Math.PI / 18) / 8, 3);
  });

  it('is nothing for a level one, which has the greatest depth there is', () => {
    const level = { width: 8, height: 8, channels: 1, data: new Float32Array(64).fill(0.3) };
    expect(steepnessOf(level, 'clamp')).toBe(0);
    expect(depthOfSteepness(level, 45, 'clamp')).toBe(MOST_DEPTH);
  });
});

describe('a map by the tones of a picture', () => {
  /** Lightness, and chroma along one axis. */
  const lab = (...texels: [number, number][]): Image => ({
    ...{ width: texels.length, height: 1, channels: 3 },
    data: Float32Array.from(texels.flatMap(([light, chroma]) => [light, 0, chroma])),
  });
  const made = (settings: Partial<PickedMap>, image: Image, cavities: Image | null = null): number[] =>
    Array.from(pickedMap(image, { ...NEUTRAL, ...settings }, 'clamp', cavities).data);

  it('goes by lightness and by chroma, about their means', () => {
    const image = lab([0.4, 0.1], [0.6, 0.2]);
    expect(made({ tone: -1 }, image)[0]).toBeCloseTo(0.6, 5);
    expect(made({ tone: -1 }, image)[1]).toBeCloseTo(0.4, 5);
    expect(made({ saturation: 0.2 }, image)[0]).toBeCloseTo(0.4, 5);
    expect(made({ saturation: 0.2 }, image)[1]).toBeCloseTo(0.6, 5);
  });

  it('goes by cavities, within 0 to 1, and leaves picked colours their value', () => {
    const cavities = { width: 3, height: 1, channels: 1, data: new Float32Array([1, 0.5, 0]) };
    const image = lab([0.5, 0], [0.5, 0], [0.5, 0]);
    expect(made({ cavity: 0.4 }, image, cavities).map((value) => +value.toFixed(5))).toEqual([0.5, 0.7, 0.9]);
    expect(made({ cavity: 4 }, image, cavities)).toEqual([0.5, 1, 1]);
    const pick = { color: '#636363', tolerance: 0.1, softness: 0, value: 0.25 };
    expect(made({ cavity: 0.4, picks: [pick] }, image, cavities)).toEqual([0.25, 0.25, 0.25]);
  });

  it('follows the relief of its own photograph: joints are rougher', () => {
    const image = photograph(256);
    const options = { ...OPTIONS, roughness: { ...NEUTRAL, tone: -0.6, saturation: 0.2, cavity: 0.35 } };
    const deriver = new MapDeriver(image, 'color', true);
    const [roughness, height] = [deriver.make('roughness', options).data, deriver.make('height', options).data];
    const of = (isDeep: boolean): number => mean(roughness.filter((_, i) => height[i]! < 0.2 === isDeep));
    expect(of(true)).toBeGreaterThan(of(false) + 0.1);
  });
});
