import { describe, expect, it } from 'vitest';
import { ZographosError } from '../errors.ts';
import { TexelState } from '../image/image.ts';
import { quantise } from '../image/quantise.ts';
import { bakeOnOneThread, testSettings } from '../testing/bakeOnOneThread.ts';
import { meshOf, reliefPlane, sphere } from '../testing/shapes.ts';
import { cagePositions } from './rays/cage.ts';
import type { BakeSettings } from './settings.ts';

const settings = (size: number, samplesPerAxis: number, reach = 0.2): BakeSettings =>
  testSettings(size, { samplesPerAxis, reach: { out: reach, in: reach } });

function bakeNormals(...work: Parameters<typeof bakeOnOneThread>) {
  const { maps, ...rest } = bakeOnOneThread(...work);
  return { normal: maps.normal!, ...rest };
}

/**
 * Mean angle in degrees between a baked, 16-bit quantised map of the square −1 … 1 and the exact normal of
 * a relief at each texel's centre.
 */
function meanError(
  normal: Float32Array,
  size: number,
  exact: (x: number, y: number) => [number, number, number],
): number {
  const stored = quantise(normal, 16);
  let sum = 0;
  for (let j = 0; j < size; j++) {
    for (let i = 0; i < size; i++) {
      const at = (j * size + i) * 3;
      const n = [0, 1, 2].map((k) => (stored[at + k]! / 65535) * 2 - 1);
      const e = exact(((i + 0.5) / size) * 2 - 1, 1 - ((j + 0.5) / size) * 2);
      const cross = Math.hypot(n[1]! * e[2] - n[2]! * e[1], n[2]! * e[0] - n[0]! * e[2], n[0]! * e[1] - n[1]! * e[0]);
      sum += Math.atan2(cross, n[0]! * e[0] + n[1]! * e[1] + n[2]! * e[2]);
    }
  }
  return ((sum / (size * size)) * 180) / Math.PI;
}

const unit = (x: number, y: number, z: number): [number, number, number] => {
  const length = Math.hypot(x, y, z);
  return [x / length, y / length, z / length];
};

describe('a relief baked onto a plane', () => {
  it('shows the gradient of a sum of sines (calculus) to below 0.3° at 1024', () => {
    const z = (x: number, y: number): number => 0.04 * Math.sin(7 * x + 1) + 0.03 * Math.sin(9 * y) * Math.cos(4 * x);
    const exact = (x: number, y: number): [number, number, number] => {
      const dx = 0.28 * Math.cos(7 * x + 1) - 0.12 * Math.sin(9 * y) * Math.sin(4 * x);
      const dy = 0.27 * Math.cos(9 * y) * Math.cos(4 * x);
      return unit(-dx, -dy, 1);
    };
    const source = reliefPlane('waves', 500, 1.05, z, exact);
    const { normal, statistics } = bakeNormals(reliefPlane('plane', 1, 1), [source], settings(1024, 1));
    expect(statistics.misses).toBe(0);
    expect(meanError(normal, 1024, exact)).toBeLessThan(0.3);
  });

  it('shows spherical caps (geometry) to below 0.3° at 1024', () => {
    // Caps of radius 0.3 on a grid of 0.5: z = √(R² − d²) − R cos α, flat between them.
    const [radius, height] = [0.3, 0.12];
    const offset = radius - height;
    const cap = (x: number, y: number): [number, number, number] | null => {
      const [dx, dy] = [x - (Math.round((x - 0.25) * 2) / 2 + 0.25), y - (Math.round((y - 0.25) * 2) / 2 + 0.25)];
      const inside = radius * radius - dx * dx - dy * dy;
      return inside > offset * offset ? [dx, dy, Math.sqrt(inside)] : null;
    };
    const z = (x: number, y: number): number => (cap(x, y)?.[2] ?? offset) - offset;
    const exact = (x: number, y: number): [number, number, number] => {
      const found = cap(x, y);
      return found ? unit(...found) : [0, 0, 1];
    };
    const source = reliefPlane('caps', 1000, 1.05, z, exact);
    const { normal } = bakeNormals(reliefPlane('plane', 1, 1), [source], settings(1024, 1));
    expect(meanError(normal, 1024, exact)).toBeLessThan(0.3);
  });

  it('turns green over with Y down, and is 128, 128, 255 where flat (common practice, no source)', () => {
    const slope = reliefPlane('slope', 1, 1.1, (_, y) => y * 0.1);
    for (let i = 0; i < slope.normals.length; i += 3) slope.normals.set(unit(0, -0.1, 1), i);
    const up = bakeNormals(reliefPlane('plane', 1, 1), [slope], settings(16, 1));
    const down = bakeNormals(reliefPlane('plane', 1, 1), [slope], {
      ...settings(16, 1),
      normal: { space: 'tangent', y: 'down', axes: 'xyz' },
    });
    // The slope faces down the picture (−V): with Y up its green is below the middle.
    expect(up.normal[1]).toBeLessThan(0.46);
    expect(up.normal[1]! + down.normal[1]!).toBeCloseTo(1, 6);
    const flat = bakeNormals(reliefPlane('plane', 1, 1), [reliefPlane('flat', 1, 1.1)], settings(16, 2));
    expect([...quantise(flat.normal, 8).subarray(0, 3)]).toEqual([128, 128, 255]);
  });

  it('keeps the axes of the mesh in object space', () => {
    const receiver = sphere('light', 1, 24, 48);
    const source = sphere('dense', 1.01, 96, 192);
    const size = 128;
    const { normal, states } = bakeNormals(receiver, [source], {
      ...settings(size, 2, 0.1),
      normal: { space: 'object', y: 'up', axes: 'xyz' },
    });
    for (const [i, j] of [
      [10, 64],
      [70, 40],
      [100, 90],
    ] as const) {
      const at = j * size + i;
      expect(states[at]).toBe(TexelState.covered);
      const turn = ((i + 0.5) / size) * 2 * Math.PI;
      const polar = ((j + 0.5) / size) * Math.PI;
      const exact = [Math.sin(polar) * Math.cos(turn), Math.sin(polar) * Math.sin(turn), Math.cos(polar)];
      for (let k = 0; k < 3; k++) expect(normal[at * 3 + k]! * 2 - 1).toBeCloseTo(exact[k]!, 2);
    }
  });
});

describe('coverage', () => {
  it('takes every texel that the layout touches, and leaves no dark rim', () => {
    // A slanted island: compare with every texel whose square really overlaps one of its triangles.
    const receiver = reliefPlane('slanted', 1, 1);
    receiver.uvSets[0]!.coords.set([0.13, 0.21, 0.71, 0.11, 0.24, 0.87, 0.83, 0.77]);
    const size = 64;
    const { states, normal } = bakeNormals(receiver, [reliefPlane('flat', 1, 1.1)], settings(size, 1));
    const c = receiver.uvSets[0]!.coords;
    const corner = (v: number): [number, number] => [c[v * 2]! * size, (1 - c[v * 2 + 1]!) * size];
    for (let y = 0; y < size; y++) {
      for (let x = 0; x < size; x++) {
        const overlap = [0, 3].reduce((sum, t) => {
          const triangle = [0, 1, 2].map((k) => corner(receiver.indices[t + k]!));
          return sum + overlapArea(triangle, x, y);
        }, 0);
        const covered = states[y * size + x] === TexelState.covered;
        if (overlap > 1e-4) expect(covered).toBe(true);
        if (overlap === 0) expect(covered).toBe(false);
        // Rim texels hold the full value, not one mixed with the background.
        if (covered) expect(normal[(y * size + x) * 3 + 2]).toBeCloseTo(1, 6);
      }
    }
  });

  it('counts no overlap on shared edges, and every texel where islands overlap', () => {
    const apart = bakeNormals(reliefPlane('grid', 9, 1), [reliefPlane('flat', 1, 1.1)], settings(90, 4));
    expect(apart.statistics.texels.overlapping).toBe(0);
    expect(apart.statistics.texels.covered).toBe(90 * 90);
    const receiver = reliefPlane('twice', 1, 1);
    // Both triangles on the same half of the tile.
    receiver.uvSets[0]!.coords.set([0, 0, 1, 0, 1, 0, 1, 1]);
    const twice = meshOf(
      'twice',
      receiver.positions,
      receiver.normals,
      Uint32Array.of(0, 1, 3, 0, 2, 3),
      receiver.uvSets[0]!.coords,
    );
    const overlapped = bakeNormals(twice, [reliefPlane('flat', 1, 1.1)], settings(32, 2));
    expect(overlapped.statistics.texels.overlapping).toBeGreaterThan(450);
  });

  it('marks what met nothing as missed and gives it the surface of the receiver', () => {
    const source = reliefPlane('half', 1, 1.1);
    for (let i = 0; i < source.positions.length; i += 3) if (source.positions[i]! > 0) source.positions[i] = 0;
    const { states, normal, statistics } = bakeNormals(reliefPlane('plane', 1, 1), [source], settings(32, 1));
    expect(states[5 * 32 + 4]).toBe(TexelState.covered);
    expect(states[5 * 32 + 28]).toBe(TexelState.missed);
    expect([...normal.subarray((5 * 32 + 28) * 3, (5 * 32 + 28) * 3 + 3)]).toEqual([0.5, 0.5, 1]);
    expect(statistics.texels.missed).toBe(16 * 32);
    expect(statistics.misses).toBe(16 * 32);
  });

  it('goes through surfaces that face away, unless they are to count', () => {
    const turned = reliefPlane('turned', 1, 1.1);
    for (let t = 0; t < turned.indices.length; t += 3) turned.indices.subarray(t + 1, t + 3).reverse();
    const ignoring = bakeNormals(reliefPlane('plane', 1, 1), [turned], settings(16, 1));
    expect(ignoring.statistics.misses).toBe(256);
    const accepting = bakeNormals(reliefPlane('plane', 1, 1), [turned], {
      ...settings(16, 1),
      backFaces: 'accept',
    });
    expect(accepting.statistics.hitsFromBehind).toBe(256);
  });

  it('refuses a mesh without UVs with the way out', () => {
    const { positions, normals, indices } = reliefPlane('bare', 1, 1);
    const bare = meshOf('bare', positions, normals, indices);
    expect(() => bakeNormals(bare, [reliefPlane('flat', 1, 1)], settings(16, 1))).toThrow(ZographosError);
    expect(() => bakeNormals(bare, [reliefPlane('flat', 1, 1)], settings(16, 1))).toThrow(/has no UVs.*UV set/);
  });
});

describe('a cage', () => {
  const receiver = reliefPlane('plane', 4, 1);
  const cage = { ...reliefPlane('cage', 4, 1.4), name: 'cage' };
  for (let i = 2; i < cage.positions.length; i += 3) cage.positions[i] = 0.5;

  it('lets rays start where it lies, along the way to the receiver', () => {
    const source = reliefPlane('source', 1, 3, () => 0.3);
    const { maps, statistics } = bakeOnOneThread(
      receiver,
      [source],
      testSettings(32, { maps: ['height', 'position'], reach: { out: 0, in: 0.1 } }),
      {},
      cage,
    );
    expect(statistics.misses).toBe(0);
    const [x, y] = [5, 20];
    // From (1.4 p, 0.5) to (p, 0): at height 0.3 the ray is at p · 1.24, and that far along its slanted way.
    const p = [((x + 0.5) / 32) * 2 - 1, 1 - ((y + 0.5) / 32) * 2] as const;
    const slant = Math.hypot(0.4 * p[0], 0.4 * p[1], 0.5) / 0.5;
    expect(maps.height![y * 32 + x]).toBeCloseTo(0.3 * slant, 4);
    expect(maps.position![(y * 32 + x) * 3]).toBeCloseTo(p[0] * 1.24, 4);
  });

  it('of another topology is refused with the reason', () => {
    expect(() => cagePositions(receiver, reliefPlane('other', 5, 1))).toThrow(/50 triangles, but “plane” has 32/);
    const shuffled = { ...cage, indices: cage.indices.slice() };
    shuffled.indices.subarray(0, 3).reverse();
    expect(() => cagePositions(receiver, shuffled)).toThrow(/corners of one vertex lie apart/);
  });
});

/** Area of a triangle within the unit square at (x, y), by cutting it with the four sides. */
function overlapArea(triangle: [number, number][], x: number, y: number): number {
  let polygon = triangle;
  const cuts: [number, number, number][] = [
    [1, 0, -x],
    [-1, 0, x + 1],
    [0, 1, -y],
    [0, -1, y + 1],
  ];
  for (const [a, b, c] of cuts) {
    const next: [number, number][] = [];
    polygon.forEach((p, i) => {
      const q = polygon[(i + 1) % polygon.length]!;
      const dp = a * p[0] + b * p[1] + c;
      const dq = a * q[0] + b * q[1] + c;
      if (dp >= 0) next.push(p);
      if (dp >= 0 !== dq >= 0)
        next.push([p[0] + ((q[0] - p[0]) * dp) / (dp - dq), p[1] + ((q[1] - p[1]) * dp) / (dp - dq)]);
    });
    polygon = next;
  }
  const twice = polygon.reduce((sum, p, i) => {
    const q = polygon[(i + 1) % polygon.length]!;
    return sum + p[0] * q[1] - q[0] * p[1];
  }, 0);
  return Math.abs(twice) / 2;
}
