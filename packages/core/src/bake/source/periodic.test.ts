import { describe, expect, it } from 'vitest';
import { boundsOf } from '../../mesh/bounds.ts';
import { bakeOnOneThread, testSettings } from '../../testing/bakeOnOneThread.ts';
import { reliefPlane, sphere } from '../../testing/shapes.ts';
import { latticeOf, periodOf, repeatMesh, type Period, type Repeat } from './periodic.ts';

const plane = reliefPlane('plane', 1, 1);
const uvs = plane.uvSets[0]!.coords;
const period = periodOf('plane', plane.positions, uvs);
const SIDE = 48;

/** A dome that lies across the tile's corner, so that it must come in again at the other three. */
const dome = (() => {
  const mesh = sphere('dome', 0.22, 24, 48);
  for (let i = 0; i < mesh.positions.length; i += 3) {
    mesh.positions[i]! += 0.9;
    mesh.positions[i + 1]! += 0.95;
  }
  return mesh;
})();

function heights(repeat: Repeat, shift = [0, 0]): Float32Array {
  const receiver = { ...plane, positions: plane.positions.map((value, i) => value + (shift[i % 3] ?? 0)) };
  const repeated = repeatMesh(dome, boundsOf(receiver.positions), period, repeat, 0.5);
  const settings = testSettings(SIDE, { maps: ['height', 'ao'], reach: { out: 0.4, in: 0.4 }, samplesPerAxis: 2 });
  const floor = reliefPlane('floor', 1, 4);
  const limited = { ...settings.occlusion, rays: 16, distance: 0.4 };
  return bakeOnOneThread(receiver, [repeated, floor], { ...settings, occlusion: limited }).maps.height!;
}

describe('a pattern repeated over a tile', () => {
  it('takes the steps of the tile from the receiver’s layout', () => {
    for (const [k, value] of [2, 0, 0].entries()) expect(period.u[k]).toBeCloseTo(value, 6);
    for (const [k, value] of [0, 2, 0].entries()) expect(period.v[k]).toBeCloseTo(value, 6);
    const bent = reliefPlane('bent', 8, 1, (x) => x * x);
    expect(() => periodOf('bent', bent.positions, bent.uvSets[0]!.coords)).toThrow(/flat receiver.*“bent”/);
  });

  it.each<Repeat>([
    { grid: 'square', columns: 1, rows: 1 },
    { grid: 'square', columns: 3, rows: 2 },
    { grid: 'staggered', columns: 2, rows: 2 },
    { grid: 'hexagonal', columns: 3, rows: 'follow' },
  ])('tiles exactly: moved by half a tile, $grid $columns gives the same map turned round', (repeat) => {
    const here = heights(repeat);
    const there = heights(repeat, [1, 1]);
    let worst = 0;
    for (let y = 0; y < SIDE; y++) {
      for (let x = 0; x < SIDE; x++) {
        const moved = ((y + SIDE / 2) % SIDE) * SIDE + ((x + SIDE / 2) % SIDE);
        worst = Math.max(worst, Math.abs(there[y * SIDE + x]! - here[moved]!));
      }
    }
    expect(worst).toBeLessThan(1e-4);
    expect(Math.max(...here)).toBeGreaterThan(0.2);
  });

  it('lays a hexagonal grid whose neighbours lie as far in the next row as in their own', () => {
    const dot = sphere('dot', 0.01, 4, 8);
    const { positions } = repeatMesh(
      dot,
      boundsOf(plane.positions),
      period,
      { grid: 'hexagonal', columns: 7, rows: 'follow' },
      0,
    );
    const corners = dot.positions.length;
    const centres = Array.from({ length: positions.length / corners }, (_, i) => {
      const box = boundsOf(positions.slice(i * corners, (i + 1) * corners));
      return [0, 1].map((k) => (box.min[k]! + box.max[k]!) / 2);
    });
    const middle = centres.reduce((best, c) => (Math.hypot(...c) < Math.hypot(...best) ? c : best));
    const distances = centres
      .map((c) => Math.hypot(c[0]! - middle[0]!, c[1]! - middle[1]!))
      .sort((a, b) => a - b)
      .slice(1, 7);
    // The number of rows must be even for the tile to close, so the grid is as near to regular as that allows.
    expect(distances[5]! / distances[0]!).toBeLessThan(1.08);
  });

  it('keeps its proportions where rows follow, and says how far they are from regular where they cannot', () => {
    const wide = { u: [3, 0, 0], v: [0, 2, 0] } as const;
    const of = (grid: Repeat['grid'], columns: number, rows: Repeat['rows'] = 'follow', tile: Period = period) =>
      latticeOf({ grid, columns, rows }, tile);
    expect(of('square', 6)).toEqual({ columns: 6, rows: 6, stretch: 1 });
    expect(of('square', 6, 'follow', wide)).toEqual({ columns: 6, rows: 4, stretch: 1 });
    expect(of('staggered', 6, 'follow', wide)).toEqual({ columns: 6, rows: 4, stretch: 1 });
    expect(of('square', 6, 3)).toEqual({ columns: 6, rows: 3, stretch: 2 });
    // Six columns of regular hexagons need 6.93 rows: six rows lie 15 % too far apart, eight 13 % too near.
    expect(of('hexagonal', 6).rows).toBe(6);
    expect(of('hexagonal', 6).stretch).toBeCloseTo(6.928 / 6, 3);
    expect(of('hexagonal', 6, 8).stretch).toBeCloseTo(6.928 / 8, 3);
    for (let columns = 1; columns <= 64; columns++) {
      const { rows, stretch } = of('hexagonal', columns);
      for (const other of [rows - 2, rows + 2]) {
        if (other < 2) continue;
        const { stretch: others } = of('hexagonal', columns, other);
        expect(Math.abs(Math.log(stretch))).toBeLessThanOrEqual(Math.abs(Math.log(others)) + 1e-9);
      }
    }
    expect(() => of('hexagonal', 6, 7)).toThrow(/7 is odd. Choose 8, or let rows follow/);
  });

  it('refuses what cannot close, and what would be too much', () => {
    const tile = boundsOf(plane.positions);
    expect(() => repeatMesh(dome, tile, period, { grid: 'staggered', columns: 2, rows: 3 }, 0)).toThrow(
      /even; 3 is odd. Choose 4/,
    );
    const heavy = sphere('heavy', 0.3, 300, 600);
    expect(() => repeatMesh(heavy, tile, period, { grid: 'square', columns: 32, rows: 32 }, 1)).toThrow(
      /the limit is 20000000/,
    );
  });
});
