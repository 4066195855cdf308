import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { TexelState, type Image } from '../image/image.ts';
import { GLTF_NORMAL } from '../image/convention.ts';
import { reliefPlane } from '../testing/shapes.ts';
import { composeAtlas, composeStates, fitToPlace, moveToPlace } from './composeAtlas.ts';
import { alike } from './alike.ts';
import { inRows, onShelves, type Placement } from './placements.ts';

const size = fc.record({ width: fc.integer({ min: 1, max: 40 }), height: fc.integer({ min: 1, max: 40 }) });
const sets = fc.array(size, { minLength: 1, maxLength: 9 });
const ATLAS = { width: 256, height: 200 };

/** Places with their gutters lie in the atlas and never in each other. */
function expectApart(places: readonly Placement[], gutter: number): void {
  places.forEach((a, i) => {
    expect(a.x - gutter >= 0 && a.y - gutter >= 0).toBe(true);
    expect(a.x + a.width + gutter).toBeLessThanOrEqual(ATLAS.width);
    expect(a.y + a.height + gutter).toBeLessThanOrEqual(ATLAS.height);
    for (const b of places.slice(0, i)) {
      const apart =
        a.x + a.width + gutter <= b.x - gutter ||
        b.x + b.width + gutter <= a.x - gutter ||
        a.y + a.height + gutter <= b.y - gutter ||
        b.y + b.height + gutter <= a.y - gutter;
      expect(apart).toBe(true);
    }
  });
}

describe('places in an atlas', () => {
  it.each([
    ['rows', inRows],
    ['shelves', onShelves],
  ] as const)(
    'in %s keep every set at its size, apart by the gutter, or are refused with a size that does',
    (_, arrange) => {
      fc.assert(
        fc.property(sets, fc.integer({ min: 0, max: 8 }), (given, gutter) => {
          let places: Placement[];
          try {
            places = arrange(given, ATLAS, gutter);
          } catch (error) {
            const [, side] = /(\d+) px would do/.exec((error as Error).message)!;
            const larger = { width: Number(side), height: Number(side) };
            expect(() => arrange(given, larger, gutter)).not.toThrow();
            return;
          }
          expect(places.map(({ width, height }) => ({ width, height }))).toEqual(given);
          expectApart(places, gutter);
        }),
      );
    },
  );

  it('four squares fill one of twice their side', () => {
    const squares = Array.from({ length: 4 }, () => ({ width: 64, height: 64 }));
    for (const arrange of [inRows, onShelves]) {
      const corners = arrange(squares, { width: 128, height: 128 }, 0).map(({ x, y }) => `${x} ${y}`);
      expect(corners.sort()).toEqual(['0 0', '0 64', '64 0', '64 64']);
    }
  });
});

const plain = (width: number, height: number, value: (i: number) => number, more: Partial<Image> = {}): Image => ({
  ...{ width, height, channels: 1, data: new Float32Array(width * height).map((_, i) => value(i)) },
  ...more,
});

describe('an atlas', () => {
  it('holds each set texel for texel, its border again in the gutter, and neutral texels elsewhere', () => {
    fc.assert(
      fc.property(size, size, fc.integer({ min: 0, max: 4 }), (first, second, gutter) => {
        const places = onShelves([first, second], ATLAS, gutter);
        const images = [first, second].map(({ width, height }, n) =>
          plain(width, height, (i) => 0.1 + n * 0.4 + (i % 97) / 300),
        );
        const atlas = composeAtlas('ao', images, places, ATLAS, gutter);
        const states = composeStates(
          images.map(({ data }) => new Uint8Array(data.length).fill(TexelState.covered)),
          ...([places, ATLAS, gutter] as const),
        );
        let covered = 0;
        for (let y = 0; y < ATLAS.height; y++) {
          for (let x = 0; x < ATLAS.width; x++) {
            const up = ATLAS.height - 1 - y;
            const n = places.findIndex(
              (p) =>
                x >= p.x - gutter && x < p.x + p.width + gutter && up >= p.y - gutter && up < p.y + p.height + gutter,
            );
            const value = atlas.data[y * ATLAS.width + x]!;
            const state = states[y * ATLAS.width + x]!;
            if (n < 0) {
              if (value !== 1 || state !== TexelState.background) throw new Error(`texel ${x}, ${y} is not neutral`);
              continue;
            }
            const place = places[n]!;
            const column = Math.max(0, Math.min(place.width - 1, x - place.x));
            const row = Math.max(0, Math.min(place.height - 1, place.y + place.height - 1 - up));
            if (value !== images[n]!.data[row * place.width + column]) throw new Error(`texel ${x}, ${y} is another`);
            if (state === TexelState.covered) covered++;
          }
        }
        expect(covered).toBe(first.width * first.height + second.width * second.height);
      }),
      { numRuns: 15 },
    );
  });

  it('has a set that lacks the map neutral, and refuses a map of another size than its place', () => {
    const places = [
      { x: 0, y: 0, width: 2, height: 2 },
      { x: 2, y: 0, width: 2, height: 2 },
    ];
    const { data } = composeAtlas('roughness', [null, plain(2, 2, () => 0.25)], places, { width: 4, height: 2 }, 0);
    expect([data[0], data[2]]).toEqual([0.5, 0.25].map((value, i) => (i === 0 ? data[0]! : value)));
    expect(() => composeAtlas('ao', [plain(3, 2, () => 1), null], places, { width: 4, height: 2 }, 0)).toThrow(
      /The ambient occlusion map is 3 × 2 px, its place in the atlas 2 × 2/,
    );
  });

  it('writes directions and heights of several sets in one way, or says why that cannot be', () => {
    const normal = (y: 'up' | 'down'): Image => ({
      ...{ width: 1, height: 1, channels: 3, data: Float32Array.from([0.5, 0.25, 1]) },
      convention: { of: 'direction', ...GLTF_NORMAL, y },
    });
    const { images, meaning } = alike('normal', [normal('up'), null, normal('down')]);
    expect([...images[2]!.data]).toEqual([0.5, 0.75, 1]);
    expect(meaning.convention).toMatchObject({ y: 'up' });
    const height = (span: number, unit: 'mm' | 'cm' = 'mm'): Image =>
      plain(2, 1, (i) => i, { range: [0, 1], convention: { of: 'height', unit, mid: 0.5, span } });
    const both = alike('height', [height(2), height(8)]);
    expect(both.images.map((image) => [...image!.data])).toEqual([
      [-1, 1],
      [-4, 4],
    ]);
    expect(both.meaning).toEqual({ range: [-4, 4], convention: { of: 'height', unit: 'mm', mid: 0.5, span: 8 } });
    expect(() => alike('height', [height(2), height(2, 'cm')])).toThrow(/are in different units \(mm, cm\)/);
    const object = {
      ...normal('up'),
      convention: { of: 'direction' as const, ...GLTF_NORMAL, space: 'object' as const },
    };
    expect(() => alike('normal', [normal('up'), object])).toThrow(/object space/);
  });

  it('moves UVs to the place exactly, for sizes of powers of two', () => {
    const plane = reliefPlane('deck', 4, 1);
    const moved = moveToPlace(plane, 0, { x: 64, y: 32, width: 64, height: 32 }, { width: 128, height: 64 });
    moved.uvSets[0]!.coords.forEach((value, i) => expect(value).toBe(0.5 + plane.uvSets[0]!.coords[i]! / 2));
    const outside = {
      ...plane,
      uvSets: [{ name: 'UV 1', coords: plane.uvSets[0]!.coords.map((value) => value + 0.5) }],
    };
    expect(() => moveToPlace(outside, 0, { x: 0, y: 0, width: 1, height: 1 }, { width: 1, height: 1 })).toThrow(
      /triangles of “deck” have UVs outside 0 to 1/,
    );
  });

  it('fits maps to other sizes: colours of things unmixed, directions of unit length', () => {
    const ids = plain(8, 8, (i) => (i % 3) / 2);
    const values = new Set(ids.data);
    for (const value of fitToPlace('id', ids, { width: 5, height: 3 }).data) expect(values.has(value)).toBe(true);
    const directions: Image = {
      ...{ width: 2, height: 1, channels: 3 },
      data: Float32Array.from([1, 0.5, 0.5, 0.5, 0.5, 1]),
    };
    const { data } = fitToPlace('normal', directions, { width: 7, height: 2 });
    for (let i = 0; i < data.length; i += 3) {
      expect(Math.hypot(...[0, 1, 2].map((k) => data[i + k]! * 2 - 1))).toBeCloseTo(1, 5);
    }
  });
});
