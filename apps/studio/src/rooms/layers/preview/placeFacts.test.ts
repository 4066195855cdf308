import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { layeredMeshes, type LayeredSurface } from '@zographos/core/layers';
import { reliefPlane, sphere } from '@zographos/core/testing';
import { facesFor, factsOf, placeInTile, placesByTile, weightsOf } from './placeFacts.ts';

/** 100 mm wide about the origin, UVs from 0 to 1 over it. */
const square = layeredMeshes([reliefPlane('square', 8, 50, (x, y) => (x * x - y * y) / 200)], 0, 1);
const ball = layeredMeshes([{ ...sphere('ball', 50, 16, 32), slots: ['hull'] }], 0, 1);
const share = fc.double({ min: 0.01, max: 0.99, noNaN: true });

function pointOn(
  { receiver: { positions, indices } }: LayeredSurface,
  triangle: number,
  b: number,
  c: number,
): number[] {
  return [0, 1, 2].map((k) =>
    [1 - b - c, b, c].reduce(
      (sum, weight, corner) => sum + positions[indices[triangle * 3 + corner]! * 3 + k]! * weight,
      0,
    ),
  );
}

describe('a place that is clicked', () => {
  it('on the map is the one that lies there on the surface', () => {
    fc.assert(
      fc.property(share, share, (u, v) => {
        const found = placeInTile(square, { what: 'triangle', tile: 1001, u, v, add: false, pressure: 1 })!;
        const [x, y] = [u * 100 - 50, v * 100 - 50];
        expect(found.place[0]).toBeCloseTo(x, 2);
        expect(found.place[1]).toBeCloseTo(y, 2);
        expect(Math.hypot(...found.normal)).toBeCloseTo(1, 4);
        // Its triangle holds it, but for half a texel of the 1024 that clicks are told apart by: 1/256 of a triangle's legs
        // here, and twice that across its longest side.
        const most = 1 / 128 + 1e-6;
        const weights = weightsOf(square, Uint32Array.of(found.triangle), Float32Array.from(found.place), [0]);
        for (const weight of [weights[0]!, weights[1]!, 1 - weights[0]! - weights[1]!]) {
          expect(weight).toBeGreaterThan(-most);
          expect(weight).toBeLessThan(1 + most);
        }
      }),
      { numRuns: 60 },
    );
  });

  it('beside the layout or the tile is none', () => {
    for (const [tile, u, v] of [
      [1001, -0.1, 0.5],
      [1001, 0.5, 1.01],
      [1002, 0.5, 0.5],
    ] as const) {
      expect(placeInTile(square, { what: 'triangle', tile, u, v, add: false, pressure: 1 })).toBeNull();
    }
  });

  it('is known by slot, object and tile; beyond the mesh nothing is', async () => {
    expect(await factsOf(ball, 40, [0, 0, 0], null)).toEqual({
      slot: 'hull',
      object: 'ball',
      tile: 1001,
      idColor: null,
    });
    expect(await factsOf(ball, 1e6, [0, 0, 0], null)).toBeNull();
  });
});

describe('weights on triangles', () => {
  it('are those by which a point was made of their corners', () => {
    fc.assert(
      fc.property(fc.nat(square.receiver.indices.length / 3 - 1), share, share, (triangle, a, along) => {
        const [b, c] = [a * along, a * (1 - along)];
        const point = Float32Array.from(pointOn(square, triangle, b, c));
        const weights = weightsOf(square, Uint32Array.of(triangle), point, [0]);
        expect(weights[0]).toBeCloseTo(b, 4);
        expect(weights[1]).toBeCloseTo(c, 4);
      }),
    );
  });

  it('are asked for tile by tile: each place once, with those of its own', () => {
    const triangles = Uint32Array.from({ length: 20 }, (_, i) => i * 3);
    const byTile = placesByTile(ball, triangles);
    expect([...byTile.values()].flat().sort((a, b) => a - b)).toEqual([...triangles.keys()]);
  });
});

describe('faces that are picked', () => {
  it('grow by those around until nothing is left, and by flat angles to all of a plane', () => {
    const count = square.receiver.indices.length / 3;
    let ranges: readonly (readonly [number, number])[] = [[10, 11]];
    let before = 0;
    for (let step = 0; step < 40; step++) {
      const told = facesFor({ what: 'grow', ranges }, square);
      ({ ranges } = told);
      const now = ranges.reduce((sum, [from, to]) => sum + to - from, 0);
      expect(now).toBeGreaterThanOrEqual(before);
      expect(told.of).toBe(count);
      before = now;
    }
    expect(ranges).toEqual([[0, count]]);
    const plane = layeredMeshes([reliefPlane('plane', 4, 50)], 0, 1);
    expect(facesFor({ what: 'faces', triangle: 3, angle: 1 }, plane).ranges).toEqual([[0, 32]]);
  });
});
