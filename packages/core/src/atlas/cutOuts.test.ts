import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Image } from '../image/image.ts';
import { cutOutAtlas, findCutOuts, placeCutOuts } from './cutOuts.ts';
import { repeatedAcross } from './composeAtlas.ts';
import { asTrims } from './placements.ts';

const SIDE = 64;
const plane = (value: (x: number, y: number) => number): Image => ({
  ...{ width: SIDE, height: SIDE, channels: 1 },
  data: Float32Array.from({ length: SIDE * SIDE }, (_, i) => value(i % SIDE, Math.floor(i / SIDE))),
});
/** Discs that stand apart, with soft edges of two texels. */
const DISCS = [
  [12, 12, 8],
  [40, 14, 5],
  [30, 45, 12],
] as const;
const soft = (x: number, y: number): number =>
  Math.max(...DISCS.map(([cx, cy, r]) => Math.max(0, Math.min(1, (r - Math.hypot(x - cx, y - cy)) / 2 + 0.5))));
const opacity = plane(soft);

describe('cut-outs', () => {
  it('are found where they touch, at sides and at corners, from the top down, without dust', () => {
    const { cutOuts, labels } = findCutOuts(opacity, 0.5, 4);
    expect(cutOuts.map(({ x, y, width }) => [x, y, width])).toEqual([
      [5, 5, 15],
      [36, 10, 9],
      [19, 34, 23],
    ]);
    expect(new Set(labels)).toEqual(new Set([0, 1, 2, 3]));
    expect(
      findCutOuts(
        plane((x, y) => (x === y ? 1 : 0)),
        0.5,
        1,
      ).cutOuts,
    ).toHaveLength(1);
    // A spiral is one, however its rows begin.
    const comb = plane((x, y) => (y === 60 || (x % 2 === 0 && y < 60) ? 1 : 0));
    expect(findCutOuts(comb, 0.5, 1).cutOuts).toEqual([{ x: 0, y: 0, width: SIDE, height: 61 }]);
    expect(
      findCutOuts(
        plane((x, y) => (x === 3 && y === 3 ? 1 : soft(x, y))),
        0.5,
        400,
      ).cutOuts,
    ).toHaveLength(1);
    expect(() =>
      findCutOuts(
        plane(() => 0),
        0.5,
        1,
      ),
    ).toThrow(/Nothing stands alone/);
  });

  it('lie apart in their atlas by the gutter, whole where they fit and else reduced alike', () => {
    fc.assert(
      fc.property(
        fc.array(fc.record({ width: fc.integer({ min: 1, max: 60 }), height: fc.integer({ min: 1, max: 60 }) }), {
          minLength: 1,
          maxLength: 12,
        }),
        fc.integer({ min: 0, max: 4 }),
        (sizes, gutter) => {
          const { places, scale } = placeCutOuts(sizes, { width: 128, height: 128 }, gutter);
          expect(scale).toBeGreaterThan(0);
          expect(scale).toBeLessThanOrEqual(1);
          for (const [i, a] of places.entries()) {
            expect(a.x >= gutter && a.y >= gutter).toBe(true);
            expect(a.x + a.width + gutter <= 128 && a.y + a.height + gutter <= 128).toBe(true);
            for (const b of places.slice(0, i)) {
              const [across, up] = [Math.max(a.x, b.x), Math.max(a.y, b.y)];
              const meets =
                across < Math.min(a.x + a.width, b.x + b.width) + 2 * gutter &&
                up < Math.min(a.y + a.height, b.y + b.height) + 2 * gutter;
              expect(meets).toBe(false);
            }
          }
        },
      ),
    );
    expect(() =>
      placeCutOuts(
        Array.from({ length: 900 }, () => ({ width: 9, height: 9 })),
        { width: 16, height: 16 },
        2,
      ),
    ).toThrow(/do not fit/);
  });

  it('keep their opacity, and their colours without any of the background', () => {
    const size = { width: 128, height: 128 };
    const found = findCutOuts(opacity, 0.1, 4);
    const { places, scale } = placeCutOuts(found.cutOuts, size, 3);
    expect(scale).toBe(1);
    // Green leaves on a red ground, which goes on below soft edges.
    const colors: Image = {
      ...{ width: SIDE, height: SIDE, channels: 3, colorSpace: 'srgb' },
      data: Float32Array.from({ length: SIDE * SIDE * 3 }, (_, i) => {
        const texel = Math.floor(i / 3);
        const share = soft(texel % SIDE, Math.floor(texel / SIDE)) > 0.1 ? 1 : 0;
        return [1 - share, share, 0.2][i % 3]!;
      }),
    };
    const atlas = cutOutAtlas([{ kind: 'basecolor', image: colors }], opacity, found, places, size, 3);
    const sum = (values: Float32Array): number => values.reduce((total, value) => total + value, 0);
    expect(sum(atlas.opacity.data)).toBeCloseTo(sum(opacity.data), -1);
    const { data } = atlas.maps[0]!;
    for (const [i, value] of atlas.opacity.data.entries()) {
      if (value > 0) expect(data[i * 3]!).toBeLessThan(0.02);
    }
  });
});

describe('a trim sheet', () => {
  const strips = [
    { width: 512, height: 128 },
    { width: 1024, height: 64 },
  ];

  it('has strips over its whole width from the top, apart by the gutter', () => {
    expect(asTrims(strips, { width: 256, height: 128 }, 4)).toEqual([
      { x: 0, y: 128 - 64 - 4, width: 256, height: 64 },
      { x: 0, y: 128 - 64 - 8 - 16 - 4, width: 256, height: 16 },
    ]);
  });

  it('repeats sets across, finer until all fit, in their proportions, or says that they do not', () => {
    const tiles = [
      { width: 938, height: 1200 },
      { width: 1024, height: 1024 },
    ];
    const places = asTrims(tiles, { width: 2048, height: 2048 }, 8);
    for (const [i, { across = 1, width, height }] of places.entries()) {
      expect(across).toBeGreaterThan(1);
      expect(height / (width / across)).toBeCloseTo(tiles[i]!.height / tiles[i]!.width, 2);
    }
    expect(places.at(-1)!.y).toBeGreaterThanOrEqual(8);
    const many = Array.from({ length: 40 }, () => strips[0]!);
    expect(() => asTrims(many, { width: 256, height: 90 }, 4)).toThrow(/do not fit/);
  });

  it('holds a set so many times beside itself', () => {
    const image = { width: 2, height: 2, channels: 1, data: Float32Array.of(1, 2, 3, 4) };
    expect(repeatedAcross(image, 2)).toMatchObject({ width: 4, data: Float32Array.of(1, 2, 1, 2, 3, 4, 3, 4) });
  });
});
