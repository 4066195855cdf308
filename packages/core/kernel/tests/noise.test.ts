import { createNoise2D, createNoise3D, createNoise4D } from 'simplex-noise';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { KernelTeam, useKernelTeam } from '../../src/kernel/kernelTeam.ts';
import { CELL_MEASURES } from '../../src/pattern/noise/cellularNoise.ts';
import { cellsAt } from '../../src/pattern/noise/cellsAt.ts';
import { placesFor, type Places } from '../../src/pattern/domain.ts';
import { fieldImage } from '../../src/pattern/field.ts';
import { DEFAULT_LAYER } from '../../src/pattern/fieldLayer.ts';
import { permutation, permutationOf, type Dimensions } from '../../src/pattern/noise/lattice.ts';
import { NOISE_STYLES, type Octave } from '../../src/pattern/noise/octave.ts';
import { octavesOf } from '../../src/pattern/noise/octaves.ts';
import { randomNumbers } from '../../src/testing/shapes.ts';
import { largestDifference, loadKernel } from './loadKernel.ts';

const COUNT = 1003;
const DIMENSIONS = [2, 3, 4] as const satisfies Dimensions[];

/** Anywhere, some far from the origin and some on the lattice itself. */
function somewhere(seed: number): Places {
  const random = randomNumbers(seed);
  const places = placesFor(COUNT);
  for (const axis of places) {
    for (let i = 0; i < COUNT; i++) axis[i] = i % 20 === 0 ? Math.floor(random() * 9 - 4) : (random() - 0.5) * 200;
  }
  return places;
}

const once = (table: Uint8Array): Octave[] => [{ cells: 1, weight: 1, shown: 1, table }];

describe('noise in the kernel', () => {
  beforeEach(() => void useKernelTeam(new KernelTeam(loadKernel(65536), 1)));
  afterEach(() => void useKernelTeam(null));

  it('is that of plain code, in every kind, style and number of dimensions', () => {
    for (const kind of ['simplex-noise', 'gradient-noise'] as const) {
      for (const dimensions of DIMENSIONS) {
        for (const style of NOISE_STYLES) {
          const octaves = [0, 1, 2, 3].map((k) => ({
            ...{ cells: 1.3 * 2.1 ** k, weight: 0.6 ** k, shown: [1, 1, 0.4, 0][k]! },
            table: permutationOf(k + 5),
          }));
          const sum = octavesOf(kind, dimensions, style, octaves, 0.4);
          const [own, plain] = [new Float32Array(COUNT), new Float32Array(COUNT)];
          const places = somewhere(dimensions);
          sum(places, own);
          const team = useKernelTeam(null);
          sum(places, plain);
          useKernelTeam(team);
          // What lies between lattice points is known to 2⁻²⁴, and slopes of a noise reach some tens.
          expect(largestDifference(own, plain), `${kind}, ${dimensions}, ${style}`).toBeLessThan(1e-5);
        }
      }
    }
  });

  it('is that of the package simplex-noise', () => {
    const table = permutation(randomNumbers(9));
    const packaged: ((x: number, y: number, z: number, w: number) => number)[] = [
      createNoise2D(randomNumbers(9)),
      createNoise3D(randomNumbers(9)),
      createNoise4D(randomNumbers(9)),
    ];
    DIMENSIONS.forEach((dimensions, k) => {
      const places = somewhere(20 + k);
      const [x, y, z, w] = places;
      const own = new Float32Array(COUNT);
      octavesOf('simplex-noise', dimensions, 'smooth', once(table), 1)(places, own);
      const expected = own.map((_, i) => 0.5 + 0.5 * packaged[k]!(x[i]!, y[i]!, z[i]!, w[i]!));
      expect(largestDifference(own, expected), String(dimensions)).toBeLessThan(1e-5);
    });
  });

  it('finds the cells of plain code, with every measure and number of dimensions', () => {
    for (const dimensions of DIMENSIONS) {
      const scattered = somewhere(30 + dimensions);
      // Close together as in a row of a picture, and here and there a leap.
      const along = scattered.map((axis) => axis.map((_, i) => axis[i >> 8]! / 8 + (i * axis[1]!) / 7e4)) as never;
      for (const places of [scattered, along] as Places[]) {
        for (const measure of CELL_MEASURES) {
          for (const jitter of [0.4, 1]) {
            const edge = [0.05, 0.15] as const;
            const at = cellsAt({ dimensions, table: permutationOf(3), cells: 1.7, jitter, measure, edge });
            const [own, plain] = [new Float32Array(COUNT), new Float32Array(COUNT)];
            at(places, own);
            const team = useKernelTeam(null);
            at(places, plain);
            useKernelTeam(team);
            // Distances are known to 2⁻²³ of a cell; cracks are ten times as steep. No place lies on a border.
            expect(largestDifference(own, plain), `${dimensions}, ${measure}, ${jitter}`).toBeLessThan(1e-5);
          }
        }
      }
    }
  });

  it('draws the same field, with its levels and blends and moved about', () => {
    const layers = [
      { ...DEFAULT_LAYER, octaves: 4, warp: { amount: 0.05, scale: 3, seed: 2 } },
      { ...DEFAULT_LAYER, kind: 'simplex-noise' as const, blend: 'overlay' as const, opacity: 0.7, invert: true },
    ];
    for (const wrap of ['none', 'cylinder', 'torus', 'flat-torus'] as const) {
      const own = fieldImage({ layers, wrap, samples: 2 }, { width: 61, height: 40 });
      const team = useKernelTeam(null);
      const plain = fieldImage({ layers, wrap, samples: 2 }, { width: 61, height: 40 });
      useKernelTeam(team);
      expect(largestDifference(own.data, plain.data), wrap).toBeLessThan(1e-4);
    }
  });
});
