import { describe, expect, it } from 'vitest';
import { subdivide } from './subdivide.ts';

/** Two triangles that share an edge. */
const POSITIONS = Float32Array.of(0, 0, 0, 2, 0, 0, 0, 2, 0, 2, 0, 0, 2, 2, 1, 0, 2, 0);

const areaOf = (p: Float32Array): number => {
  let area = 0;
  for (let i = 0; i < p.length; i += 9) {
    const [a, b] = [3, 6].map((k) => [p[i + k]! - p[i]!, p[i + k + 1]! - p[i + 1]!, p[i + k + 2]! - p[i + 2]!]);
    const [ax, ay, az] = a as [number, number, number];
    const [bx, by, bz] = b as [number, number, number];
    area += Math.hypot(ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx) / 2;
  }
  return area;
};

describe('triangles that are split for displacement', () => {
  it('keep their surface and what lies on it, up to the limit and no further', () => {
    const uvs = Float32Array.from({ length: 12 }, (_, i) => POSITIONS[Math.floor(i / 2) * 3 + (i % 2)]! / 2);
    const [p, uv] = subdivide(
      [
        { values: POSITIONS, size: 3 },
        { values: uvs, size: 2 },
      ],
      100,
    );
    expect(p!.length / 9).toBe(2 * 16);
    expect(areaOf(p!)).toBeCloseTo(areaOf(POSITIONS), 5);
    // UVs were a linear function of the place, and still are.
    for (let corner = 0; corner < p!.length / 3; corner++) {
      expect(uv![corner * 2]).toBeCloseTo(p![corner * 3]! / 2, 6);
      expect(uv![corner * 2 + 1]).toBeCloseTo(p![corner * 3 + 1]! / 2, 6);
    }
    expect(subdivide([{ values: POSITIONS, size: 3 }], 7)[0]).toBe(POSITIONS);
  });

  it('do not tear: each edge within is shared by two, corner to corner', () => {
    const [p] = subdivide([{ values: POSITIONS, size: 3 }], 200) as [Float32Array];
    const edges = new Map<string, number>();
    const name = (corner: number): string => p.subarray(corner * 3, corner * 3 + 3).join();
    for (let t = 0; t < p.length / 9; t++) {
      for (const [a, b] of [
        [0, 1],
        [1, 2],
        [2, 0],
      ] as const) {
        const edge = [name(t * 3 + a), name(t * 3 + b)].sort().join('|');
        edges.set(edge, (edges.get(edge) ?? 0) + 1);
      }
    }
    const counts = [...edges.values()];
    // Of 128 triangles four sides of eight edges each lie on the rim.
    expect(counts.filter((count) => count === 1)).toHaveLength(32);
    expect(counts.every((count) => count <= 2)).toBe(true);
  });
});
