import { describe, expect, it } from 'vitest';
import type { Image } from '../../image/image.ts';
import { CutSide } from '../cut/minCut.ts';
import { grey, pebbles } from '../testing/pebbles.ts';
import { membrane } from './membrane.ts';
import { windowOf, type Spot } from './spot.ts';
import { seamsOfSpots } from './seamsOfSpots.ts';
import { sourceOf } from './spotSource.ts';
import { planTouchUp, touchUp } from './touchUp.ts';

const mended = (image: Image, spots: readonly Spot[]): Image => touchUp(image, planTouchUp(image, spots));

const dotAt = (middle: [number, number], radius: number, side: number, of: (x: number, y: number) => number): Image =>
  grey(side, side, (x, y) => {
    const [dx, dy] = [Math.abs(x - middle[0]), Math.abs(y - middle[1])];
    return Math.hypot(Math.min(dx, side - dx), Math.min(dy, side - dy)) < radius ? 1 : of(x, y);
  });

describe('touching up', () => {
  it('paints a spot out over the border, with what lies elsewhere', () => {
    const spot = dotAt([0, 0], 4, 32, () => 0.25);
    const { data } = mended(spot, [{ path: [[0, 0]], radius: 0.16, reach: 0.4, from: null }]);
    for (const value of data) expect(value).toBeCloseTo(0.25, 6);
  });

  it('finds in a pattern that repeats the place that continues it exactly', () => {
    // Waves of 16 and 12 texels: any way of whole waves continues them.
    const wave = (x: number, y: number): number =>
      0.5 + 0.2 * Math.sin((2 * Math.PI * x) / 16) + 0.2 * Math.sin((2 * Math.PI * y) / 12);
    const tile = dotAt([40, 50], 5, 192, wave);
    const spot: Spot = { path: [[40 / 192, 50 / 192]], radius: 7 / 192, reach: 1, from: null };
    const [dx, dy] = sourceOf(tile, spot, [spot])!;
    expect([dx % 16, dy % 12].map(Math.abs)).toEqual([0, 0]);
    const { data } = mended(tile, [spot]);
    data.forEach((value, at) => expect(value).toBeCloseTo(wave(at % 192, Math.floor(at / 192)), 5));
  });

  it('fits texture into another light', () => {
    // Grain that repeats, on a slope from dark to light: nothing elsewhere has the light of the spot.
    const grain = (x: number, y: number): number => 0.03 * Math.sin(x * 1.3) * Math.cos(y * 1.1);
    const lit = (x: number, y: number): number => 0.2 + 0.6 * (1 - Math.abs(y - 64) / 64) + grain(x, y);
    const tile = dotAt([64, 32], 5, 128, lit);
    const { data } = mended(tile, [{ path: [[0.5, 0.25]], radius: 0.06, reach: 1, from: [0.5, 0.9] }]);
    for (let y = 28; y < 37; y++) {
      for (let x = 60; x < 69; x++) expect(Math.abs(data[y * 128 + x]! - lit(x, y))).toBeLessThan(0.09);
    }
  });

  it('never takes what another spot covers', () => {
    const tile = pebbles(96, 3);
    const spots: Spot[] = [
      { path: [[0.3, 0.3]], radius: 0.08, reach: 1, from: null },
      {
        path: [
          [0.7, 0.6],
          [0.8, 0.65],
        ],
        radius: 0.08,
        reach: 1,
        from: null,
      },
    ];
    const isCovered = (x: number, y: number): boolean =>
      spots.some((spot) => {
        const window = windowOf(spot, tile);
        const [i, j] = [(x - window.left + 192) % 96, (y - window.top + 192) % 96];
        return i < window.width && j < window.height && window.side[j * window.width + i] === CutSide.fresh;
      });
    for (const { window, way } of planTouchUp(tile, spots)) {
      window.side.forEach((side, at) => {
        if (side !== CutSide.fresh) return;
        const [x, y] = [window.left + (at % window.width), window.top + Math.floor(at / window.width)];
        expect(isCovered((x + way[0] + 192) % 96, (y + way[1] + 192) % 96)).toBe(false);
      });
    }
  });

  it('shows its edge less than the brush would, and keeps maps on each other', () => {
    const stones = pebbles(96, 12);
    const spot: Spot = { path: [[0.3, 0.4]], radius: 0.08, reach: 1.2, from: [0.75, 0.7] };
    const jump = (reach: number): number => {
      const [painted] = planTouchUp(stones, [{ ...spot, reach }]);
      const { data } = touchUp(stones, [painted!]);
      const { window, shows } = painted!;
      let [sum, count] = [0, 0];
      for (let i = 0; i < shows.length - 1; i++) {
        if ((i + 1) % window.width === 0 || shows[i]! >= 4 === shows[i + 1]! >= 4) continue;
        const at = (window.top + Math.floor(i / window.width)) * 96 + window.left + (i % window.width);
        sum += Math.abs(data[at]! - data[at + 1]!);
        count++;
      }
      return sum / count;
    };
    expect(jump(1.2)).toBeLessThan(jump(0) * 0.75);
    const twice: Image = { ...stones, data: stones.data.map((value) => value * 0.5) };
    const plan = planTouchUp(stones, [spot]);
    const [first, second] = [touchUp(stones, plan), touchUp(twice, plan)];
    second.data.forEach((value, i) => expect(value).toBeCloseTo(first.data[i]! * 0.5, 5));
  });

  it('leaves a tile as it is that is covered as a whole', () => {
    const tile = pebbles(32, 1);
    expect(mended(tile, [{ path: [[0.5, 0.5]], radius: 0.9, reach: 0, from: null }]).data).toEqual(tile.data);
  });
});

describe('the seams of spots', () => {
  it('are those within reach of the brush, over the border as well', () => {
    const spots: Spot[] = [
      { path: [[0.01, 0.5]], radius: 0.05, reach: 1, from: null },
      { path: [[0.5, 0.5]], radius: 0.05, reach: 0, from: null },
    ];
    const seams = [
      { x: 0.95, y: 0.5, strength: 2 },
      { x: 0.05, y: 0.52, strength: 3 },
      { x: 0.5, y: 0.6, strength: 9 },
    ];
    expect(seamsOfSpots(spots, seams, { width: 900, height: 900 })).toEqual([3, 0]);
    expect(seamsOfSpots(spots, seams.slice(0, 1), { width: 900, height: 900 })).toEqual([2, 0]);
  });
});

describe('a membrane', () => {
  it('is the harmonic function its border belongs to (x² − y², from memory)', () => {
    const [width, height] = [120, 75];
    const harmonic = (x: number, y: number): number => ((x - 50) ** 2 - (y - 40) ** 2) / 1000;
    const isFixed = Uint8Array.from({ length: width * height }, (_, at) => {
      const [x, y] = [at % width, Math.floor(at / width)];
      return Math.min(x, width - 1 - x, y, height - 1 - y) === 0 || Math.hypot(x - 70, y - 30) < 9 ? 1 : 0;
    });
    const exact = Float32Array.from(isFixed, (_, at) => harmonic(at % width, Math.floor(at / width)));
    const values = exact.map((value, at) => (isFixed[at] === 1 ? value : 99));
    membrane(values, isFixed, width, height);
    // Within one per cent of how far it reaches.
    const reach = Math.max(...exact) - Math.min(...exact);
    values.forEach((value, at) => expect(Math.abs(value - exact[at]!)).toBeLessThan(reach / 100));
  });
});
