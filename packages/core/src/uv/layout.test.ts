import { describe, expect, it } from 'vitest';
import { reliefPlane, sphere } from '../testing/shapes.ts';
import { checkLayout, type LayoutCheckOptions } from './check/checkLayout.ts';
import { findNarrowGaps } from './check/islandGaps.ts';
import { islandNumbers } from './islands/islands.ts';
import type { Layout } from './layout.ts';
import { findOverlaps } from './check/overlaps.ts';
import { measureStretch } from './check/stretch.ts';
import { measureTexelDensity } from './check/texelDensity.ts';

/** Squares that lie apart in space, each with a place in the layout: u, v and side. */
function squares(...places: [u: number, v: number, width: number, height?: number][]): Layout {
  const positions: number[] = [];
  const uvs: number[] = [];
  const indices: number[] = [];
  places.forEach(([u, v, width, height = width], i) => {
    for (const [x, y] of [
      [0, 0],
      [1, 0],
      [1, 1],
      [0, 1],
    ] as const) {
      positions.push(x + i * 2, y, 0);
      uvs.push(u + x * width, v + y * height);
    }
    const a = i * 4;
    indices.push(a, a + 1, a + 2, a, a + 2, a + 3);
  });
  return {
    positions: Float32Array.from(positions),
    uvs: Float32Array.from(uvs),
    indices: Uint32Array.from(indices),
  };
}

const options: LayoutCheckOptions = { size: { width: 1024, height: 1024 }, padding: 8, tiles: [1001] };

describe('overlaps', () => {
  const pairs = (layout: Layout): number => findOverlaps(layout, islandNumbers(layout)).pairs;

  it('are not neighbours, nor islands that touch', () => {
    const { positions, uvSets, indices } = sphere('ball', 1, 40, 80);
    expect(pairs({ positions, uvs: uvSets[0]!.coords, indices })).toBe(0);
    expect(pairs(squares([0, 0, 0.5], [0.5, 0, 0.5], [0.25, 0.5, 0.5]))).toBe(0);
  });

  it('are found between and within islands, large and small, and in any orientation', () => {
    const layout = squares([0, 0, 0.5], [0.49, 0.1, 0.4]);
    const found = findOverlaps(layout, islandNumbers(layout));
    // In the narrow strip: right against left halves, and the tip of one half on either side.
    expect(found.pairs).toBe(3);
    expect(found.islands).toMatchObject([{ a: 0, b: 1, pairs: 3 }]);
    expect([...found.flagged]).toEqual([1, 1, 1, 1]);
    expect(pairs(squares([0, 0, 1], [0.3, 0.6, 0.001]))).toBe(2);
    expect(pairs(squares([0, 0, 0.5], [0.5, 0.5, -0.5]))).toBe(2);
  });

  it('agree with brute force over random triangles', () => {
    let seed = 1;
    const random = (): number => (seed = (seed * 16807) % 2147483647) / 2147483647;
    const count = 400;
    const uvs = Float32Array.from({ length: count * 6 }, (_, i) => (i % 6 < 2 ? random() : 0));
    for (let t = 0; t < count; t++) {
      const reach = t % 10 === 0 ? 0.4 : 0.05;
      for (let k = 2; k < 6; k++) uvs[t * 6 + k] = uvs[t * 6 + (k % 2)]! + (random() - 0.5) * reach;
    }
    const positions = new Float32Array(count * 9).map((_, i) => i);
    const indices = Uint32Array.from({ length: count * 3 }, (_, i) => i);
    const layout = { positions, uvs, indices };
    let expected = 0;
    for (let a = 0; a < count; a++) for (let b = a + 1; b < count; b++) if (shareArea(uvs, a, b)) expected++;
    expect(pairs(layout)).toBe(expected);
  });

  it('may be accepted, and a stack of thousands comes to an end', () => {
    const stacked = squares(...Array.from({ length: 1500 }, (): [number, number, number] => [0.1, 0.1, 0.3]));
    const islands = islandNumbers(stacked);
    expect(findOverlaps(stacked, islands).flagged.every((flag) => flag === 1)).toBe(true);
    expect(findOverlaps(stacked, islands, () => true).pairs).toBe(0);
  });
});

/** Whether two triangles share more than a hair: one clipped by the other (Sutherland and Hodgman 1974). */
function shareArea(uvs: Float32Array, a: number, b: number): boolean {
  const corners = (t: number): [number, number][] => {
    const points = [0, 1, 2].map((c): [number, number] => [uvs[t * 6 + c * 2]!, uvs[t * 6 + c * 2 + 1]!]);
    return area(points) < 0 ? points.reverse() : points;
  };
  const clip = corners(b);
  let shape = corners(a);
  clip.forEach(([px, py], i) => {
    const [qx, qy] = clip[(i + 1) % 3]!;
    const side = ([x, y]: [number, number]): number => (qx - px) * (y - py) - (qy - py) * (x - px);
    shape = shape.flatMap((point, n): [number, number][] => {
      const next = shape[(n + 1) % shape.length]!;
      const [s, t] = [side(point), side(next)];
      const cut: [number, number] = [
        point[0] + ((next[0] - point[0]) * s) / (s - t),
        point[1] + ((next[1] - point[1]) * s) / (s - t),
      ];
      if (s >= 0) return t >= 0 ? [point] : [point, cut];
      return t >= 0 ? [cut] : [];
    });
  });
  return Math.abs(area(shape)) > 1e-11;
}

const area = (points: [number, number][]): number =>
  points.reduce((sum, [x, y], i) => {
    const [nx, ny] = points[(i + 1) % points.length]!;
    return sum + (x * ny - nx * y) / 2;
  }, 0);

describe('one stray corner', () => {
  it('far away hides nothing of what lies in the tile, and holds nothing up', () => {
    const plane = reliefPlane('plane', 60, 1);
    const uvs = plane.uvSets[0]!.coords.slice();
    const layout: Layout = { positions: plane.positions, uvs, indices: plane.indices };
    // Two cells lie on each other by a little.
    for (const v of [700, 701]) uvs[v * 2]! += 0.03;
    const options: LayoutCheckOptions = { size: { width: 1024, height: 1024 }, padding: 8, tiles: [1001] };
    const before = checkLayout(layout, options);
    expect(before.overlaps.pairs).toBeGreaterThan(0);
    const vertex = 61 * 61 - 1;
    uvs.set([5000, 5000], vertex * 2);
    const after = checkLayout(layout, options);
    expect(after.overlaps.pairs).toBeGreaterThanOrEqual(before.overlaps.pairs);
    before.overlaps.flagged.forEach(
      (flag, t) => flag === 1 && expect(after.overlaps.flagged[t], `triangle ${t}`).toBe(1),
    );
    expect(after.outside.length).toBeGreaterThan(0);
  });
});

describe('stretch (Sander, Snyder, Gortler, Hoppe 2001)', () => {
  it('is 1 where lengths are kept, whatever the scale and however turned', () => {
    const [cos, sin] = [Math.cos(0.4) * 0.3, Math.sin(0.4) * 0.3];
    const { positions, uvSets, indices } = reliefPlane('plane', 4, 1);
    const uvs = uvSets[0]!.coords.map((_, i, all) =>
      i % 2 === 0 ? all[i]! * cos - all[i + 1]! * sin : all[i - 1]! * sin + all[i]! * cos,
    );
    const { l2, linf } = measureStretch({ positions, uvs, indices });
    expect(l2).toBeCloseTo(1, 5);
    expect(linf).toBeCloseTo(1, 5);
  });

  it('of a map stretched by s along one axis has the value of the formula', () => {
    // Singular values 1/s and 1, scaled by √s for equal areas: L2 = √((1/s + s) / 2), L∞ = √s.
    for (const s of [2, 4, 9]) {
      const { positions, indices } = squares([0, 0, 1]);
      const { l2, linf } = measureStretch({ positions, indices, uvs: Float32Array.of(0, 0, s, 0, s, 1, 0, 1) });
      expect(l2).toBeCloseTo(Math.sqrt((1 / s + s) / 2), 6);
      expect(linf).toBeCloseTo(Math.sqrt(s), 6);
    }
  });

  it('has no bound where a triangle is pressed flat in the layout', () => {
    const { positions, indices } = squares([0, 0, 1]);
    const { l2, linf } = measureStretch({ positions, indices, uvs: Float32Array.of(0, 0, 1, 0, 1, 1, 0.5, 0.5) });
    expect([l2, linf]).toEqual([Infinity, Infinity]);
  });
});

describe('a layout', () => {
  it('has a texel density in texels for each mesh unit', () => {
    const { mean, min, max } = measureTexelDensity(squares([0, 0, 0.5], [0.5, 0, 0.25]), { width: 1024, height: 1024 });
    expect(mean).toBeCloseTo(384, 3);
    expect(min).toBeCloseTo(256, 3);
    expect(max).toBeCloseTo(512, 3);
  });

  it('tells gaps between islands and to the edge to the texel', () => {
    const layout = squares([0.125, 0.125, 0.25], [0.375 + 6 / 1024, 0.125, 0.25], [4 / 1024, 0.6, 0.25]);
    const gaps = findNarrowGaps(layout, islandNumbers(layout), options.size, 8);
    expect(gaps.map(({ a, b }) => [a, b])).toEqual([
      [2, null],
      [0, 1],
    ]);
    expect(gaps[0]!.gap).toBeCloseTo(4, 2);
    expect(gaps[1]!.gap).toBeCloseTo(6, 2);
    expect(findNarrowGaps(layout, islandNumbers(layout), options.size, 4)).toEqual([]);
  });

  it('tells what is mirrored, outside and without area, and how much is covered', () => {
    const check = checkLayout(squares([0, 0, 0.5], [0.5, 0.5, 0.25], [0.9, 0.25, -0.1, 0.1], [1.2, 0, 0.5]), options);
    expect(check.islands).toBe(4);
    expect(check.flipped).toEqual([4, 5]);
    expect(check.outside).toEqual([6, 7]);
    expect(check.coverage.get(1001)).toBeCloseTo(0.25 + 0.0625 + 0.01, 3);
    expect(checkLayout(squares([0, 0, 0.5], [1.2, 0, 0.5]), { ...options, tiles: 'all' }).outside).toEqual([]);
    expect(checkLayout(squares([0.8, 0, 0.5]), { ...options, tiles: 'all' }).outside).toEqual([0, 1]);
    expect(checkLayout(squares([0, 0, 0.5, 0]), options).zeroArea).toEqual([0, 1]);
  });

  it('with UVs at a million is measured as quickly as any other', () => {
    const check = checkLayout(squares([0, 0, 0.5], [1e6, 1e6, 0.5]), options);
    expect(check.outside).toEqual([2, 3]);
    expect(check.overlaps.pairs).toBe(0);
  });
});
