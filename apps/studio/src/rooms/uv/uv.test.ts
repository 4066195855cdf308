import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { reliefPlane } from '@zographos/core/testing';
import { checkLayout, islandBoxes, islandNumbers, layoutOf } from '@zographos/core/uv';
import { joinMeshes } from '@zographos/core/mesh';
import {
  aligned,
  ALIGNMENT_LABELS,
  ALIGNMENTS,
  boxOf,
  boxOfIsland,
  broughtBack,
  islandsWithin,
  middleOf,
  mirrorAbout,
  snapped,
  stacked,
  triangleAt,
  withMoves,
  type Box,
} from './islandPicks.ts';
import { cornerOf, gripAt, movedBox, Projection } from './layout/layoutOverlay.ts';
import { heatOf, HEATS, tintOf } from './layout/layoutHeat.ts';
import type { LaidMeshes } from './layout/layoutWorker.ts';

/** Squares of the layout, an island each, in their order. */
function layoutOfSquares(boxes: readonly Box[]): LaidMeshes {
  const mesh = joinMeshes(
    'squares',
    boxes.map(([u0, v0, u1, v1], i) => {
      const plane = reliefPlane(`square ${i}`, 1, 1);
      const positions = plane.positions.map((value, k) => (k % 3 === 2 ? i * 10 : value));
      const coords = plane.uvSets[0]!.coords.map((value, k) =>
        k % 2 === 0 ? u0 + value * (u1 - u0) : v0 + value * (v1 - v0),
      );
      return { ...plane, positions, uvSets: [{ name: 'UV 1', coords }] };
    }),
  );
  const corners = Float32Array.from(
    [...mesh.indices].flatMap((v) => [...mesh.uvSets[0]!.coords.subarray(v * 2, v * 2 + 2)]),
  );
  const islandOf = Uint32Array.from({ length: boxes.length * 2 }, (_, t) => Math.floor(t / 2));
  return {
    ...{ corners, islandOf, places: new Float32Array(islandOf.length * 3), meshOf: new Uint16Array(boxes.length) },
    ...{ firstIslands: [0], firstTriangles: [0], borders: new Uint32Array(0), stacks: [] },
    boxes: Float32Array.from(boxes.flat()),
  };
}

const anyBox = fc
  .record({
    u: fc.integer({ min: -20, max: 90 }),
    v: fc.integer({ min: -20, max: 90 }),
    w: fc.integer({ min: 1, max: 9 }),
    h: fc.integer({ min: 1, max: 9 }),
  })
  .map(({ u, v, w, h }): Box => [u / 10, v / 10, (u + w) / 10, (v + h) / 10]);
const anyBoxes = fc.array(anyBox, { minLength: 1, maxLength: 6 });
const all = (boxes: readonly unknown[]): number[] => boxes.map((_, i) => i);

describe('islands', () => {
  const layout = layoutOfSquares([
    [0, 0, 0.5, 0.5],
    [0.25, 0.25, 0.75, 0.75],
    [2, 0, 2.5, 0.5],
  ]);

  it('are found under a place, the last drawn first', () => {
    const islandAt = (u: number, v: number): number => {
      const triangle = triangleAt(layout, u, v);
      return triangle < 0 ? -1 : layout.islandOf[triangle]!;
    };
    expect(islandAt(0.1, 0.1)).toBe(0);
    expect(islandAt(0.4, 0.4)).toBe(1);
    expect(islandAt(2.3, 0.2)).toBe(2);
    expect(islandAt(1.5, 0.2)).toBe(-1);
  });

  it('are chosen by a box that holds them wholly', () => {
    expect(islandsWithin(layout, [-1, -1, 1, 1])).toEqual([0, 1]);
    expect(islandsWithin(layout, [0.2, 0, 3, 1])).toEqual([1, 2]);
    expect(boxOf(layout, [0, 2])).toEqual([0, 0, 2.5, 0.5]);
    expect(boxOf(layout, [])).toBeNull();
  });

  it.each(ALIGNMENTS)('lined up %s lie there, and move along one axis only', (to) => {
    expect(ALIGNMENT_LABELS[to]).toMatch(/^[A-Z]/);
    fc.assert(
      fc.property(anyBoxes, (boxes) => {
        const before = layoutOfSquares(boxes);
        const around = boxOf(before, all(boxes))!;
        const after = withMoves(before, aligned(before, all(boxes), to));
        for (const island of all(boxes)) {
          const box = boxOfIsland(after, island);
          const [mu, mv] = middleOf(box);
          const [au, av] = middleOf(around);
          const place = {
            left: box[0],
            right: box[2],
            bottom: box[1],
            top: box[3],
            'centre-across': mu,
            'centre-up': mv,
          }[to];
          const aim = {
            left: around[0],
            right: around[2],
            bottom: around[1],
            top: around[3],
            'centre-across': au,
            'centre-up': av,
          }[to];
          expect(place).toBeCloseTo(aim, 5);
          const kept = ['left', 'right', 'centre-across'].includes(to) ? 1 : 0;
          expect(box[kept]).toBeCloseTo(boxOfIsland(before, island)[kept], 5);
        }
      }),
    );
  });

  it('stacked lie on the first, middle on middle', () => {
    fc.assert(
      fc.property(anyBoxes, (boxes) => {
        const before = layoutOfSquares(boxes);
        const after = withMoves(before, stacked(before, all(boxes)));
        const [u, v] = middleOf(boxOfIsland(before, 0));
        for (const island of all(boxes)) {
          const [mu, mv] = middleOf(boxOfIsland(after, island));
          expect([mu - u, mv - v].every((off) => Math.abs(off) < 1e-5)).toBe(true);
        }
      }),
    );
    expect(stacked(layout, [])).toEqual([]);
  });

  it('brought back lie wholly in a tile that is in use', () => {
    fc.assert(
      fc.property(anyBoxes, (boxes) => {
        const tiles = [1001, 1002, 1011];
        const before = layoutOfSquares(boxes);
        const after = withMoves(before, broughtBack(before, all(boxes), tiles));
        for (const island of all(boxes)) {
          const box = boxOfIsland(after, island);
          const [u, v] = [Math.floor(box[0] + 1e-4), Math.floor(box[1] + 1e-4)];
          expect(tiles).toContain(1001 + u + 10 * v);
          expect(box[2]).toBeLessThanOrEqual(u + 1 + 1e-4);
          expect(box[3]).toBeLessThanOrEqual(v + 1 + 1e-4);
        }
      }),
    );
  });

  it('mirrored twice are where they were', () => {
    fc.assert(
      fc.property(anyBox, fc.boolean(), (box, across) => {
        const mirror = mirrorAbout([0.3, 0.7], across);
        const twice = movedBox(movedBox(box, mirror), mirror);
        twice.forEach((value, k) => expect(value).toBeCloseTo(box[k]!, 9));
      }),
    );
  });

  it('snap to the nearest texel', () => {
    expect([0.1, 0.124, 0.126, -0.1].map((value) => snapped(value, 4))).toEqual([0, 0, 0.25, -0]);
  });
});

describe('the view of a layout', () => {
  it('goes from places to pixels and back', () => {
    fc.assert(
      fc.property(
        fc.record({
          u: fc.double({ min: -3, max: 3, noNaN: true }),
          v: fc.double({ min: -3, max: 3, noNaN: true }),
          scale: fc.double({ min: 10, max: 5000, noNaN: true }),
        }),
        fc.double({ min: -3, max: 3, noNaN: true }),
        fc.double({ min: -3, max: 3, noNaN: true }),
        fc.constantFrom(0.5, 1, 2),
        (eye, u, v, aspect) => {
          const view = new Projection(eye, 640, 480, aspect);
          const back = view.toLayout(...view.toView(u, v));
          expect(back[0]).toBeCloseTo(u, 7);
          expect(back[1]).toBeCloseTo(v, 7);
        },
      ),
    );
  });

  it('has v upwards, and a wide texture is as wide as it is', () => {
    const view = new Projection({ u: 0, v: 0, scale: 100 }, 400, 400, 2);
    expect(view.toView(1, 1)).toEqual([400, 100]);
  });

  it('finds the grips of a box at its corners, the pivot first', () => {
    const view = new Projection({ u: 0.5, v: 0.5, scale: 200 }, 400, 400, 1);
    const box: Box = [0.25, 0.25, 0.75, 0.75];
    const at = (u: number, v: number, dx = 0, dy = 0) => {
      const [x, y] = view.toView(u, v);
      return gripAt(box, [0.25, 0.25], view, x + dx, y + dy);
    };
    expect(at(0.25, 0.25)).toBe('pivot');
    expect(at(0.75, 0.75, 5, -5)).toBe('upper right');
    expect(at(0.75, 0.25)).toBe('lower right');
    expect(at(0.25, 0.75)).toBe('upper left');
    expect(at(0.5, 0.75, 0, -26)).toBe('turn');
    expect(at(0.5, 0.5)).toBeNull();
    expect(
      (['lower left', 'lower right', 'upper left', 'upper right'] as const).map((grip) => cornerOf(box, grip)),
    ).toEqual([
      [0.25, 0.25],
      [0.75, 0.25],
      [0.25, 0.75],
      [0.75, 0.75],
    ]);
  });
});

describe('the colours of a layout', () => {
  // Two squares on each other; the second is half as dense.
  const one = reliefPlane('one', 1, 1);
  const other = { ...reliefPlane('other', 1, 2), uvSets: [{ name: 'UV 1', coords: one.uvSets[0]!.coords.slice() }] };
  other.positions.forEach((value, i) => (other.positions[i] = i % 3 === 2 ? 5 : value));
  const mesh = joinMeshes('two', [one, other]);
  const layout = layoutOf(mesh, 0);
  const check = checkLayout(layout, { size: { width: 64, height: 64 }, padding: 1, tiles: 'all' } as never);

  it('are of one value for each triangle, −1 to 1', () => {
    for (const name of HEATS) {
      const { values, heated } = heatOf(name, check);
      expect(values).toHaveLength(4);
      for (const value of values) expect(value >= -1 && value <= 1).toBe(true);
      expect(heated).toBe(name !== 'findings');
    }
    const density = heatOf('density', check).values;
    expect(density[0]).toBeGreaterThan(0);
    expect(density[2]).toBeLessThan(0);
    expect([...heatOf('findings', check).values]).toEqual([1, 1, 1, 1]);
  });

  it('on the model show what is chosen over everything else', () => {
    const laid = { islandOf: islandNumbers(layout) } as LaidMeshes;
    const heat = heatOf('density', check);
    const tint = tintOf(laid, new Set([laid.islandOf[0]!]), heat);
    expect(tint.subarray(0, 4)).toEqual(tint.subarray(4, 8));
    expect(tint[3]).toBe(170);
    expect(tint[11]).toBeGreaterThan(0);
    expect([...tintOf(laid, new Set(), null)]).toEqual(new Array(16).fill(0));
    expect(islandBoxes(layout, laid.islandOf)).toHaveLength(8);
  });
});
