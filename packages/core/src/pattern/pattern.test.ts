import { createNoise2D, createNoise3D, createNoise4D } from 'simplex-noise';
import { describe, expect, it } from 'vitest';
import { resample } from '../image/filter/resample.ts';
import { randomNumbers } from '../math/randomNumbers.ts';
import { tileSeam } from '../seamless/tileSeam.ts';
import { cellularNoise } from './noise/cellularNoise.ts';
import type { WRAPS } from './domain.ts';
import { coloured, fieldImage } from './field.ts';
import { DEFAULT_LAYER, FIELD_KINDS, type FieldLayer } from './fieldLayer.ts';
import { gradientNoise } from './noise/gradientNoise.ts';
import { permutation, permutationOf } from './noise/lattice.ts';
import { simplexNoise } from './noise/simplexNoise.ts';

const field = (layer: Partial<FieldLayer>, width: number, wrap: (typeof WRAPS)[number] = 'flat-torus', samples = 2) =>
  fieldImage({ layers: [{ ...DEFAULT_LAYER, ...layer }], wrap, samples }, { width, height: width });

const spread = (values: ArrayLike<number>): [mean: number, deviation: number] => {
  const list = Array.from(values);
  const mean = list.reduce((sum, value) => sum + value, 0) / list.length;
  return [mean, Math.sqrt(list.reduce((sum, value) => sum + (value - mean) ** 2, 0) / list.length)];
};

describe('simplex-noise', () => {
  it('is that of the package simplex-noise, in two, three and four dimensions', () => {
    const reference = [
      createNoise2D(randomNumbers(4)),
      createNoise3D(randomNumbers(4)),
      createNoise4D(randomNumbers(4)),
    ];
    const random = randomNumbers(9);
    for (const dimensions of [2, 3, 4] as const) {
      const own = simplexNoise(permutation(randomNumbers(4)), dimensions);
      const other = reference[dimensions - 2] as (...place: number[]) => number;
      for (let i = 0; i < 2000; i++) {
        const place = [0, 1, 2, 3].map(() => (random() - 0.5) * 40) as [number, number, number, number];
        expect(own(...place)).toBeCloseTo(other(...place.slice(0, dimensions)), 10);
      }
    }
  });
});

describe('gradient-noise', () => {
  it('is nothing at the points of its lattice, smooth between, and about nothing in the mean (Perlin 2002)', () => {
    const random = randomNumbers(5);
    for (const dimensions of [2, 3, 4] as const) {
      const noise = gradientNoise(permutationOf(3), dimensions);
      for (let i = 0; i < 50; i++) expect(noise(i, i * 3 - 20, 7 - i, i * 2)).toBe(0);
      const values = Array.from({ length: 20000 }, () =>
        noise(random() * 99, random() * 99, random() * 99, random() * 99),
      );
      const [mean, deviation] = spread(values);
      expect(Math.abs(mean)).toBeLessThan(0.01);
      expect(deviation).toBeGreaterThan(0.2);
      expect(Math.max(...values.map(Math.abs))).toBeLessThan(1.2);
      // Second differences at cell borders are as small as elsewhere: the interpolant of 2002 is twice smooth.
      const bend = (x: number): number =>
        noise(x - 1e-3, 0.4, 0.3, 0.2) - 2 * noise(x, 0.4, 0.3, 0.2) + noise(x + 1e-3, 0.4, 0.3, 0.2);
      expect(Math.abs(bend(5))).toBeLessThan(2e-5);
    }
  });
});

describe('cellular noise', () => {
  it('finds the two nearest points of all (Worley 1996), however far they are from the middle of their cells', () => {
    const table = permutationOf(11);
    const noise = cellularNoise(table, 2, 1);
    const points: [number, number][] = [];
    // The hash as it is written down: one number for each axis, then one for each coordinate.
    for (let i = -4; i < 14; i++) {
      for (let j = -4; j < 14; j++) {
        const hash = table[table[i & 255]! + (j & 255)]!;
        points.push([i + 0.5 + table[hash]! / 256 + 1 / 512 - 0.5, j + 0.5 + table[hash + 1]! / 256 + 1 / 512 - 0.5]);
      }
    }
    const random = randomNumbers(2);
    for (let n = 0; n < 500; n++) {
      const [x, y] = [random() * 10, random() * 10];
      const sorted = points.map(([a, b]) => Math.hypot(a - x, b - y)).sort((a, b) => a - b);
      const { nearest, second } = noise(x, y, 0, 0);
      expect(nearest).toBeCloseTo(sorted[0]!, 6);
      expect(second).toBeCloseTo(sorted[1]!, 6);
    }
  });
});

describe('procedural fields', () => {
  it('of patterns are the same one cell further', () => {
    for (const kind of ['bricks', 'grid', 'dots', 'scales', 'weave'] as const) {
      const { data, width } = field({ kind, columns: 4, rows: 4 }, 96);
      for (let i = 0; i < data.length; i++) {
        const [x, y] = [i % width, Math.floor(i / width)];
        expect(data[((y + 48) % width) * width + ((x + 48) % width)]).toBeCloseTo(data[i]!, 5);
      }
    }
  });

  const borderless = FIELD_KINDS.filter((kind) => !['bricks', 'planks', 'grid', 'picture'].includes(kind));
  it.each(borderless)('repeat on the flat torus (%s)', (kind) => {
    const image = field({ kind, columns: 5, rows: 5, width: 0.02, warp: { amount: 0.02, scale: 3, seed: 4 } }, 96);
    for (const axis of ['across', 'up'] as const) expect(tileSeam(image, axis)).toBeLessThan(1.8);
    const [, deviation] = spread(image.data);
    expect(deviation).toBeGreaterThan(0.02);
  });

  it('repeat across only on a cylinder, and not at all when flat', () => {
    const layer = { scale: 5, octaves: 3 };
    expect(tileSeam(field(layer, 128, 'none'), 'across')).toBeGreaterThan(3);
    const cylinder = field(layer, 128, 'cylinder');
    expect(tileSeam(cylinder, 'across')).toBeLessThan(1.5);
    expect(tileSeam(cylinder, 'up')).toBeGreaterThan(3);
    expect(tileSeam(field(layer, 128, 'torus'), 'up')).toBeLessThan(1.5);
  });

  it('look alike in both directions on the flat torus, which a torus does not (Clifford torus)', () => {
    const roughness = (wrap: 'torus' | 'flat-torus'): number => {
      const { data, width } = field({ scale: 8, octaves: 1 }, 192, wrap, 1);
      let [across, up] = [0, 0];
      for (let y = 0; y < width - 1; y++) {
        for (let x = 0; x < width - 1; x++) {
          const at = y * width + x;
          across += (data[at + 1]! - data[at]!) ** 2;
          up += (data[at + width]! - data[at]!) ** 2;
        }
      }
      return across / up;
    };
    expect(roughness('flat-torus')).toBeGreaterThan(0.8);
    expect(roughness('flat-torus')).toBeLessThan(1.25);
    expect(roughness('torus')).toBeGreaterThan(2);
  });

  it.each(['gradient-noise', 'cracks', 'weave', 'bricks', 'planks', 'scratches', 'fibres', 'folds', 'grunge'] as const)(
    'do not change with their size: small is the large one made smaller (%s)',
    (kind) => {
      // So few lines hardly cross, where the stronger alone is seen.
      const layer = { kind, octaves: 8, style: 'ridged', count: 60 } as const;
      const [large, small] = [field(layer, 256, 'flat-torus', 2), field(layer, 64, 'flat-torus', 3)];
      const reduced = resample(large, { width: 64, height: 64 }, 'linear', 'repeat');
      const off = small.data.map((value, i) => Math.abs(value - reduced.data[i]!));
      expect(spread(off)[0]).toBeLessThan(0.03);
      expect(spread(small.data)[0]).toBeCloseTo(spread(large.data)[0], 2);
    },
  );

  it('take the colours of a ramp, ends and all', () => {
    const grey = { width: 3, height: 1, channels: 1, data: Float32Array.of(0, 0.5, 1) };
    const { data } = coloured(grey, [
      { at: 1, color: '#ffffff' },
      { at: 0, color: '#000000' },
    ]);
    expect([...data.slice(0, 3), ...data.slice(6)].map((value) => Math.round(value * 1e5) / 1e5)).toEqual([
      0, 0, 0, 1, 1, 1,
    ]);
    // Half way in lightness: L = 0.5 is 0.125 of light (Ottosson 2020: grey has L = cube root of light).
    expect(data[3]).toBeCloseTo(0.125, 4);
  });
});
