import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { sphere } from '../../../testing/shapes.ts';
import { layeredMeshes } from '../../surface/layeredSurface.ts';
import { findSources } from '../sources.ts';
import { inOrderOfPlace } from './inOrderOfPlace.ts';
import { unevennessOf } from './unevenness.ts';

describe('the unevenness that drops are led aside by', () => {
  it('is smooth, leads nowhere on the whole, and is another for another seed', () => {
    const { slopes, cells } = unevennessOf(12, 3, null);
    const [nx, ny, nz] = cells;
    expect(slopes).toHaveLength(nx * ny * nz * 3);
    for (let axis = 0; axis < 3; axis++) {
      let sum = 0;
      let steps = 0;
      let sizes = 0;
      for (let i = axis; i < slopes.length; i += 3) {
        const beside = i - axis + axis + (Math.floor(i / 3) % nx === nx - 1 ? -(nx - 1) * 3 : 3);
        sum += slopes[i]!;
        sizes += Math.abs(slopes[i]!);
        steps += Math.abs(slopes[i]! - slopes[beside]!);
      }
      // A gradient of what repeats has the mean 0.
      expect(Math.abs(sum) / (slopes.length / 3)).toBeLessThan(1);
      expect(steps).toBeLessThan(sizes);
    }
    expect(unevennessOf(12, 4, null).slopes).not.toEqual(slopes);
    expect(unevennessOf(12, 3, null).slopes).toEqual(slopes);
  });

  it('takes a whole number of times on a tile that repeats, however large that is', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.5, max: 50, noNaN: true }),
        fc.double({ min: 20, max: 4000, noNaN: true }),
        fc.double({ min: 20, max: 4000, noNaN: true }),
        (size, width, height) => {
          const { periods, cells } = unevennessOf(size, 1, [width, height]);
          for (const [axis, length] of [width, height].entries()) {
            expect(length / periods[axis]!).toBeCloseTo(Math.round(length / periods[axis]!), 6);
            expect(cells[axis]!).toBeLessThanOrEqual(256);
          }
          expect(cells[2]).toBe(4);
        },
      ),
      { numRuns: 20 },
    );
  });
});

describe('drops in the order of their places', () => {
  it('are the same drops, each nearer to the next than by the order of triangles', async () => {
    const surface = layeredMeshes([sphere('ball', 50, 40, 80)], 0, 1);
    const places = await findSources({ from: [], count: 4000, seed: 2 }, surface, { width: 64, height: 64 }, () =>
      Promise.reject(new Error('Nothing is asked for.')),
    );
    const ordered = inOrderOfPlace(places, surface);
    const named = ({ triangles, weights }: typeof places): string[] =>
      Array.from(triangles, (t, i) => `${t} ${weights[i * 2]} ${weights[i * 2 + 1]}`);
    expect(named(ordered).sort()).toEqual(named(places).sort());
    const { positions, indices } = surface.receiver;
    const stepOf = ({ triangles }: typeof places): number => {
      const at = (i: number): number[] => [0, 1, 2].map((k) => positions[indices[triangles[i]! * 3]! * 3 + k]!);
      let sum = 0;
      for (let i = 1; i < triangles.length; i++) {
        const [a, b] = [at(i - 1), at(i)];
        sum += Math.hypot(...a.map((value, k) => value - b[k]!));
      }
      return sum / triangles.length;
    };
    // 80 columns: by triangles, a ring is gone round before the next.
    expect(stepOf(ordered)).toBeLessThan(4);
  });
});
