import { beforeAll, describe, expect, it } from 'vitest';
import type { Image } from '../../image/image.ts';
import { resample } from '../../image/filter/resample.ts';
import { pebbles } from '../testing/pebbles.ts';
import { tileSeam } from '../tileSeam.ts';
import { DEFAULT_TILE, TileMaker } from '../tileMaker.ts';
import { arrangeTiles } from './arrange.ts';
import { cornerColor, cornersOfTile, placeOfTile, TILES_ACROSS, WANG_TABLE } from './cornerTorus.ts';
import { layWangTiles, planWangTiles, type WangPlan } from './wangTiles.ts';

const SIDE = 48;
const size = { width: SIDE * TILES_ACROSS, height: SIDE * TILES_ACROSS };
const source = resample(pebbles(96, 3), { width: 128, height: 120 }, 'cubic');
const options = { variety: 0.1, seed: 2 };
let plan: WangPlan;
let atlas: Image;
beforeAll(() => {
  plan = planWangTiles(source, size, options);
  atlas = layWangTiles(source, plan);
});

/** Mean jump across the borders of tiles, over that between neighbours within them. */
function jumpAtBorders({ width, height, data }: Pick<Image, 'width' | 'height' | 'data'>): number {
  const sums = { border: 0, within: 0 };
  for (let y = 0; y < height; y++) {
    for (let x = 1; x < width; x++) {
      const jump = Math.abs(data[y * width + x]! - data[y * width + x - 1]!);
      if (x % SIDE === 0) sums.border += jump / (width / SIDE - 1);
      else sums.within += jump / (width - width / SIDE);
    }
  }
  return sums.border / sums.within;
}

describe('Wang tiles with coloured corners (Lagae and Dutré 2006)', () => {
  it('are there for all colours of four corners, each once, and the table says where', () => {
    const all = new Set<string>();
    for (let row = 0; row < TILES_ACROSS; row++) {
      for (let column = 0; column < TILES_ACROSS; column++) {
        const corners = cornersOfTile(column, row);
        all.add(corners.join());
        expect(placeOfTile(corners)).toEqual([column, row]);
        expect(WANG_TABLE.tiles).toContainEqual({ column, row, corners });
      }
    }
    expect(all.size).toBe(16);
  });

  it('have the same texels along every edge with the same two colours', () => {
    const seen = { across: new Map<string, string>(), down: new Map<string, string>() };
    const values = (place: (along: number, beside: number) => [number, number]): string =>
      Array.from({ length: SIDE * 4 }, (_, i) => {
        const [x, y] = place(i >> 2, (i & 3) - 2);
        return atlas.data[((y + size.height) % size.height) * size.width + ((x + size.width) % size.width)]!;
      }).join();
    for (let row = 0; row < TILES_ACROSS; row++) {
      for (let column = 0; column < TILES_ACROSS; column++) {
        const [x0, y0] = [column * SIDE, row * SIDE];
        const edges = {
          across: [cornerColor(column + 1, row), values((along, beside) => [x0 + along, y0 + beside])],
          down: [cornerColor(column, row + 1), values((along, beside) => [x0 + beside, y0 + along])],
        } as const;
        for (const way of ['across', 'down'] as const) {
          const key = `${cornerColor(column, row)}${edges[way][0]}`;
          expect(seen[way].get(key) ?? edges[way][1], `${way} ${key}`).toBe(edges[way][1]);
          seen[way].set(key, edges[way][1]);
        }
      }
    }
    expect([seen.across.size, seen.down.size]).toEqual([4, 4]);
  });

  it('show no border in any order, and none in their atlas; without their colours they do', () => {
    const plane = arrangeTiles(atlas as Image & { data: Float32Array }, 1, 9, 7, 5);
    expect([plane.width, plane.height]).toEqual([9 * SIDE, 7 * SIDE]);
    expect(jumpAtBorders(plane)).toBeLessThan(1.6);
    expect(jumpAtBorders(atlas)).toBeLessThan(1.6);
    for (const axis of ['across', 'up'] as const) expect(tileSeam(atlas, axis)).toBeLessThan(1.8);
    const wrong = plane.data.slice();
    for (let y = 0; y < plane.height; y++) {
      const row = plane.data.subarray(y * plane.width, (y + 1) * plane.width);
      for (let x = 0; x < plane.width; x++) {
        const tile = (Math.floor(x / SIDE) * 4) % 9;
        wrong[y * plane.width + x] = row[tile * SIDE + (x % SIDE)]!;
      }
    }
    expect(jumpAtBorders({ ...plane, data: wrong })).toBeGreaterThan(2);
  });

  it('hold nothing that was not there, and are the same for all maps of a set', () => {
    const [low, high] = [Math.min(...source.data), Math.max(...source.data)];
    for (const value of atlas.data) expect(value >= low - 1e-6 && value <= high + 1e-6).toBe(true);
    const half = { ...source, data: source.data.map((value) => value / 2) };
    layWangTiles(half, plan).data.forEach((value, i) => expect(value).toBeCloseTo(atlas.data[i]! / 2, 5));
  });

  it('come out of the maker of tiles, whatever size their picture has, and can be stopped', () => {
    const maker = new TileMaker([{ kind: 'height', image: source }], 0);
    const settings = { ...DEFAULT_TILE, way: 'wang' as const, size: { width: 160, height: 160 } };
    const [tile] = maker.make(settings);
    expect([tile!.width, tile!.height]).toEqual([160, 160]);
    const check = (): void => {
      throw new Error('stopped');
    };
    expect(() => new TileMaker([{ kind: 'height', image: source }], 0).make(settings, { check })).toThrow('stopped');
  });

  it('are at a small size what they will be at a large one: patches come from about the same places', () => {
    const picture = resample(pebbles(96, 3), { width: 256, height: 256 }, 'cubic');
    const small = resample(picture, { width: 96, height: 96 }, 'linear');
    const places = [256, 512].map((wide) => {
      const framed = resample(picture, { width: wide / 2, height: wide / 2 }, 'linear');
      const { middles, across } = planWangTiles(framed, { width: wide, height: wide }, options, {}, small);
      return [...across, ...middles].map(({ from }) => from.map((along) => along / wide));
    });
    const alike = places[0]!.filter((place, i) =>
      place.every((along, k) => Math.abs(along - places[1]![i]![k]!) < 0.03),
    );
    expect(alike.length).toBe(places[0]!.length);
  });

  it('refuse an atlas that is not square, and tiles that are too small or too large', () => {
    const refused = (width: number, height: number) => () => planWangTiles(source, { width, height }, options);
    expect(refused(192, 128)).toThrow(/square/);
    expect(refused(190, 190)).toThrow(/multiple of 4/);
    expect(refused(64, 64)).toThrow(/too small/);
    expect(refused(1024, 1024)).toThrow(/do not fit/);
  });
});
