import { describe, expect, it } from 'vitest';
import type { Image } from '../image/image.ts';
import { blur } from '../image/filter/blur.ts';
import { cavityFromHeight, curvatureFromHeight } from './curvatureFromHeight.ts';
import { randomNumbers } from '../math/randomNumbers.ts';
import { LineHorizons } from './horizons.ts';
import { heightFromNormal } from './heightFromNormal.ts';
import { bandsOf, DEFAULT_TONE_HEIGHT, heightFromTone, suggestHeight, toneScales } from './heightFromTone.ts';
import { DEFAULT_NORMAL, normalFromHeight } from './normalFromHeight.ts';
import { occlusionFromHeight } from './occlusionFromHeight.ts';
import { labOf, pickedMap, pickMask } from './toneMask.ts';

const plane = (width: number, height: number, of: (x: number, y: number) => number): Image => ({
  width,
  height,
  channels: 1,
  data: Float32Array.from({ length: width * height }, (_, i) =>
    of(((i % width) + 0.5) / width, (Math.floor(i / width) + 0.5) / width),
  ),
});

/** Waves that repeat over the tile, in tile widths, with their slopes. */
const AMPLITUDE = 0.01;
const waves = (x: number, y: number): number =>
  AMPLITUDE * (Math.sin(2 * Math.PI * (2 * x + y)) + 0.6 * Math.cos(2 * Math.PI * (3 * y - x)));
const waveSlopes = (x: number, y: number): [number, number] => {
  const [a, b] = [2 * Math.PI * (2 * x + y), 2 * Math.PI * (3 * y - x)];
  const turn = 2 * Math.PI * AMPLITUDE;
  return [turn * (2 * Math.cos(a) + 0.6 * Math.sin(b)), turn * (Math.cos(a) - 1.8 * Math.sin(b))];
};

describe('normals of a height field', () => {
  it.each(['Scharr', 'Sobel'] as const)('are its gradient, in real terms, at any size (calculus; %s)', (operator) => {
    for (const width of [96, 192]) {
      const height = plane(width, width, (x, y) => 0.5 + waves(x, y) / 0.05);
      const normal = normalFromHeight(height, { ...DEFAULT_NORMAL, operator, depth: 0.05 }, 'repeat');
      for (let i = 0; i < width * width; i += 7) {
        const [sx, sy] = waveSlopes(((i % width) + 0.5) / width, (Math.floor(i / width) + 0.5) / width);
        const length = Math.hypot(sx, sy, 1);
        // Rows run down, Y of the map points up.
        const expected = [-sx / length, sy / length, 1 / length];
        expected.forEach((value, k) => {
          expect(Math.abs(normal.data[i * 3 + k]! * 2 - 1 - value)).toBeLessThan(width === 96 ? 0.006 : 0.002);
        });
      }
    }
  });

  it('point the other way with Y down', () => {
    const height = plane(16, 16, (_, y) => y);
    const [up, down] = (['up', 'down'] as const).map((y) =>
      normalFromHeight(height, { ...DEFAULT_NORMAL, y, depth: 1 }, 'clamp'),
    );
    expect(up!.data[1]).toBeCloseTo(0.5 + 0.5 * Math.SQRT1_2, 5);
    expect(down!.data[1]).toBeCloseTo(0.5 - 0.5 * Math.SQRT1_2, 5);
  });
});

describe('height from normals', () => {
  const normals = (width: number, height: number): Image => {
    const data = new Float32Array(width * height * 3);
    for (let i = 0; i < width * height; i++) {
      const [sx, sy] = waveSlopes(((i % width) + 0.5) / width, (Math.floor(i / width) + 0.5) / width);
      const length = Math.hypot(sx, sy, 1);
      [-sx / length, sy / length, 1 / length].forEach((value, k) => (data[i * 3 + k] = value * 0.5 + 0.5));
    }
    return { width, height, channels: 3, data };
  };

  it('gives an integrable surface back up to a constant (Frankot and Chellappa 1988), at sizes of any kind', () => {
    for (const width of [64, 90]) {
      const { height, depth } = heightFromNormal(normals(width, width), true);
      const truth = plane(width, width, waves);
      const heights = [...truth.data];
      const [low, high] = [Math.min(...heights), Math.max(...heights)];
      expect(depth).toBeCloseTo(high - low, 4);
      height.data.forEach((value, i) => expect(value).toBeCloseTo((truth.data[i]! - low) / (high - low), 3));
    }
  });

  it('does not let the ends of a map that does not repeat pull at each other', () => {
    const width = 64;
    const slope: Image = { width, height: width, channels: 3, data: new Float32Array(width * width * 3) };
    const length = Math.hypot(0.1, 1);
    for (let i = 0; i < width * width; i++) slope.data.set([0.5 - 0.05 / length, 0.5, 0.5 + 0.5 / length], i * 3);
    const { height, depth } = heightFromNormal(slope, false);
    expect(depth).toBeCloseTo(0.1 * (1 - 1 / width), 2);
    for (let x = 4; x < width - 4; x++) expect(height.data[x]).toBeCloseTo(x / (width - 1), 1);
  });
});

describe('occlusion of a height field', () => {
  it('is that of an endless wall: 1 − ½ (1 − x / √(x² + h²)) (Howell, view factors)', () => {
    const width = 128;
    const wall = 20;
    // A wall of 20 texels over the left quarter; depth makes one unit of height one tile width.
    const height = plane(width, 64, (x) => (x < 0.25 ? wall / width : 0));
    const openness = occlusionFromHeight(height, { depth: 1, reach: 1, slices: 24 }, 'clamp');
    for (const x of [40, 50, 70, 100]) {
      const far = x - 31;
      const expected = 1 - 0.5 * (1 - far / Math.hypot(far, wall));
      expect(Math.abs(openness.data[32 * width + x]! - expected)).toBeLessThan(0.025);
    }
  });

  it('is none on a plane, level or leaning, and the draft is near the whole', () => {
    for (const lean of [0, 0.8]) {
      const level = plane(48, 48, (x) => x * lean);
      const { data } = occlusionFromHeight(level, { depth: 1, reach: 0.2, slices: 32 }, 'clamp');
      for (let i = 20; i < 28; i++) expect(data[24 * 48 + i]).toBeGreaterThan(0.985);
    }
    const bumps = plane(96, 96, (x, y) => 0.5 + waves(x, y) / 0.05);
    const [whole, draft] = [16, 4].map((slices) =>
      occlusionFromHeight(bumps, { depth: 0.3, reach: 0.2, slices }, 'repeat'),
    );
    expect(Math.max(...whole!.data.map((value, i) => Math.abs(value - draft!.data[i]!)))).toBeLessThan(0.08);
  });

  it('finds the horizons that going through all points finds, within the reach and no farther', () => {
    const random = randomNumbers(21);
    for (const reach of [1, 2, 7, 40]) {
      const count = 100;
      // Level stretches too, where many points are a horizon at once.
      const line = Float64Array.from({ length: reach + count }, () => Math.floor(random() * 12) * random() ** 3);
      const found = new Float64Array(count);
      new LineHorizons(reach).find(line, count, found);
      for (let p = reach; p < reach + count; p++) {
        let most = -Infinity;
        for (let q = p - reach; q < p; q++) most = Math.max(most, (line[q]! - line[p]!) / (p - q));
        expect(found[p - reach]).toBe(most);
      }
    }
  });
});

describe('curvature of a height field', () => {
  it('is 1/r on a sphere and 1/(2r) on a cylinder (differential geometry), and 0 on a plane', () => {
    const width = 128;
    const radius = 1.4;
    const sphere = plane(width, width, (x, y) => Math.sqrt(radius ** 2 - (x - 0.5) ** 2 - (y - 0.5) ** 2));
    const cylinder = plane(width, width, (x) => Math.sqrt(radius ** 2 - (x - 0.5) ** 2));
    const middle = 64 * width + 64;
    for (const at of [middle, middle + 20, middle + 20 * width]) {
      expect(curvatureFromHeight(sphere, 1, 0, 'clamp').data[at]).toBeCloseTo(1 / radius, 2);
      expect(curvatureFromHeight(cylinder, 1, 0, 'clamp').data[at]).toBeCloseTo(1 / (2 * radius), 2);
      expect(
        curvatureFromHeight(
          plane(width, width, (x) => x * 0.3),
          1,
          0,
          'clamp',
        ).data[at],
      ).toBeCloseTo(0, 3);
    }
  });

  it('leaves cavities where it is lower than about it, and only there', () => {
    const pit = plane(64, 64, (x, y) => 1 - Math.exp(-((x - 0.5) ** 2 + (y - 0.5) ** 2) / 0.002));
    const { data } = cavityFromHeight(pit, { depth: 0.05, width: 0.1, strength: 1 }, 'repeat');
    expect(data[32 * 64 + 32]).toBeLessThan(0.4);
    expect(data[0]).toBeCloseTo(1, 5);
  });
});

describe('height from tone', () => {
  const grain = plane(128, 128, (x, y) => 0.5 + 0.2 * Math.sin(40 * Math.PI * x) + 0.2 * Math.cos(6 * Math.PI * y));

  it('splits into bands that add up to the picture', () => {
    const bands = [...bandsOf(toneScales(grain, 'repeat'))];
    grain.data.forEach((value, i) => {
      expect(bands.reduce((sum, { data }) => sum + data[i]!, 0)).toBeCloseTo(value, 5);
    });
  });

  it('weighs bands apart: without the wide ones only the grain is left', () => {
    const weights = [1, 1, 1, 1, 0, 0, 0];
    const height = heightFromTone(toneScales(grain, 'repeat'), { ...DEFAULT_TONE_HEIGHT, weights }, []);
    // The wide wave runs along y: means of rows no longer follow it.
    const rows = Array.from({ length: 128 }, (_, y) => blur(height, 40, 'repeat').data[y * 128]!);
    expect(Math.max(...rows) - Math.min(...rows)).toBeLessThan(0.02);
  });

  it('takes narrow dark joints for deep, and narrow light ones too when asked for (common practice, no source)', () => {
    const joints = (tone: number): Image => plane(128, 128, (x) => ((x * 8) % 1 < 0.12 ? tone : 0.5));
    const [dark, light] = [
      suggestHeight(toneScales(joints(0.1), 'repeat')),
      suggestHeight(toneScales(joints(0.9), 'repeat')),
    ];
    expect([dark.way, light.way]).toEqual(['light-high', 'dark-high']);
    expect(dark.reason).toContain('cracks');
    for (const [tone, { way }] of [
      [0.1, dark],
      [0.9, light],
    ] as const) {
      const height = heightFromTone(toneScales(joints(tone), 'repeat'), { ...DEFAULT_TONE_HEIGHT, way }, []);
      expect(height.data[1]).toBeLessThan(height.data[8]!);
    }
  });
});

describe('maps by picked tones', () => {
  const colors: Image = {
    width: 3,
    height: 1,
    channels: 3,
    data: Float32Array.of(1, 0, 0, 0, 0, 1, 1, 0.02, 0.01),
    colorSpace: 'srgb',
  };

  it('count what is like a pick, sharply or softly, later picks over earlier ones', () => {
    const lab = labOf(colors);
    const red = { color: '#ff0000', tolerance: 0.01, softness: 0, value: 0.2 };
    expect([...pickMask(lab, red).data]).toEqual([1, 0, 0]);
    const soft = pickMask(lab, { ...red, softness: 0.2 }).data;
    expect(soft[2]).toBeGreaterThan(0.5);
    expect(soft[1]).toBe(0);
    const picks = [
      { ...red, tolerance: 0.2 },
      { color: '#0000ff', tolerance: 0.01, softness: 0, value: 1 },
    ];
    const map = pickedMap(lab, { base: 0.6, tone: 0, saturation: 0, cavity: 0, picks, detail: 0 }, 'clamp');
    [0.2, 1, 0.2].forEach((value, i) => expect(map.data[i]).toBeCloseTo(value, 6));
  });
});
