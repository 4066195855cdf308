import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { splitSphere } from '../testing/shapes.ts';
import { collapseDegenerate, degenerateTriangles, isDegenerate, joinPoles } from './degenerate.ts';
import { weldPositions } from './weld.ts';

const coordinate = fc.float({ min: -10, max: 10, noNaN: true });
const point = fc.tuple(coordinate, coordinate, coordinate);

describe('triangles without area', () => {
  it('are those on one line, in any order, place and size; and no others', () => {
    fc.assert(
      fc.property(point, point, fc.double({ min: -2, max: 2, noNaN: true }), (a, b, t) => {
        // Powers of two, so that the third corner is on the line to the last bit.
        const share = Math.round(t * 4) / 4;
        const c = a.map((value, k) => value + (b[k]! - value) * share);
        const positions = Float32Array.from([...a, ...b, ...c]);
        const exact = positions.every((value, i) => value === [...a, ...b, ...c][i]);
        for (const order of [
          [0, 1, 2],
          [2, 0, 1],
          [1, 0, 2],
        ]) {
          if (exact) expect(isDegenerate(positions, Uint32Array.from(order), 0)).toBe(true);
        }
      }),
    );
    const right = Float32Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0);
    for (const scale of [1e-6, 1, 1e6]) {
      expect(
        isDegenerate(
          right.map((value) => value * scale),
          Uint32Array.of(0, 1, 2),
          0,
        ),
      ).toBe(false);
    }
    // Thin, but with an area.
    expect(isDegenerate(Float32Array.of(0, 0, 0, 1, 0, 0, 0.5, 1e-4, 0), Uint32Array.of(0, 1, 2), 0)).toBe(false);
  });

  it('of a pole are drawn into a corner of a neighbour, and the pole into one place', () => {
    const { positions, indices } = splitSphere('ball', 1, 8, 16);
    const found = degenerateTriangles(positions, indices);
    expect(found).toHaveLength(32);
    const collapsed = collapseDegenerate(positions, indices);
    const others = new Set(indices.filter((_, i) => !found.includes(Math.floor(i / 3))));
    for (const t of found) {
      const [a, b, c] = collapsed.subarray(t * 3, t * 3 + 3);
      expect([b, c]).toEqual([a, a]);
      expect(others.has(a!)).toBe(true);
    }
    expect(collapsed.filter((v, i) => v !== indices[i]).length).toBeLessThanOrEqual(found.length * 2);
    // Seventeen corners at each pole become one place; nothing else moves.
    const before = new Set(weldPositions(positions)).size;
    const after = joinPoles(positions, indices, found);
    expect(new Set(weldPositions(after)).size).toBeLessThan(before);
    expect(new Set(weldPositions(after).slice(0, 16)).size).toBe(1);
    after.forEach((value, i) => expect(Math.abs(value - positions[i]!)).toBeLessThan(1e-6));
  });

  it('are left alone where there are none', () => {
    const indices = Uint32Array.of(0, 1, 2);
    expect(collapseDegenerate(Float32Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0), indices)).toBe(indices);
  });
});
