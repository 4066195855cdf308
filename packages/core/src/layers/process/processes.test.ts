import { describe, expect, it } from 'vitest';
import type { Mesh } from '../../mesh/mesh.ts';
import { NO_INPUTS } from '../../testing/layers.ts';
import { meshOf, reliefPlane, sphere } from '../../testing/shapes.ts';
import { composeTile } from '../compose/composeTile.ts';
import {
  flatSurface,
  layeredMeshes,
  layeredTile,
  type LayeredSurface,
  type LayeredTile,
} from '../surface/layeredSurface.ts';
import type { LayerInputs } from '../inputs/layerInputs.ts';
import { onThisThread } from '../compose/onThisThread.ts';
import { PLAIN_SHAPING, type Layer, type RunsMeasure, type SpreadingMeasure } from '../stack.ts';
import { prepareProcesses } from './prepareProcesses.ts';
import { Flow } from './runs/flow.ts';
import { dropsOnTile } from './runs/runs.ts';
import { findSources } from './sources.ts';

const inputsAt = (): Promise<LayerInputs> => Promise.resolve(NO_INPUTS);

const RUNS: RunsMeasure = {
  ...{ measure: 'runs', from: [], drops: 50, length: 20, width: 3, amount: 0.5, down: [0, -1, 0] },
  ...{ wander: 0, wanderSize: 8, clings: 90, seed: 3 },
};
const SPREADING: SpreadingMeasure = {
  ...{ measure: 'spreading', from: [], seeds: 1, reach: 20, vary: 0, softness: 1, roughness: 0, roughSize: 5, seed: 1 },
};

/** A surface of revolution about y: a ring of columns between heights, radii told by a function. */
function turned(name: string, rings: number, columns: number, radius: (v: number) => number, height = 100): Mesh {
  const positions: number[] = [];
  const uvs: number[] = [];
  const indices: number[] = [];
  for (let j = 0; j <= rings; j++) {
    for (let i = 0; i <= columns; i++) {
      // The last column is where the first is, to the bit.
      const angle = ((i % columns) / columns) * 2 * Math.PI;
      const r = radius(j / rings);
      positions.push(r * Math.cos(angle), (j / rings) * height, -r * Math.sin(angle));
      uvs.push(i / columns, j / rings);
    }
  }
  const at = (i: number, j: number): number => j * (columns + 1) + i;
  const normals = Float32Array.from(positions, (_, i) =>
    i % 3 === 1 ? 0 : positions[i]! / Math.hypot(positions[i - (i % 3)]!, positions[i - (i % 3) + 2]!),
  );
  for (let j = 0; j < rings; j++) {
    for (let i = 0; i < columns; i++) {
      indices.push(at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j), at(i + 1, j + 1), at(i, j + 1));
    }
  }
  return meshOf(name, Float32Array.from(positions), normals, Uint32Array.from(indices), Float32Array.from(uvs));
}

/** Where one drop goes. */
function wayOf(surface: LayeredSurface, measure: RunsMeasure, triangle: number): { points: number[][]; end: string } {
  const flow = new Flow(surface, { ...measure, down: measure.down });
  const { positions, indices } = surface.receiver;
  const points: number[][] = [];
  const end = flow.run(triangle, 0.3, 0.3, 1000, {
    leave: (t, first, _fromB, _fromC, b, c) => {
      const [i, j, k] = [0, 1, 2].map((corner) => indices[t * 3 + ((first + corner) % 3)]! * 3) as [
        number,
        number,
        number,
      ];
      points.push(
        [0, 1, 2].map((x) => positions[i + x]! * (1 - b - c) + positions[j + x]! * b + positions[k + x]! * c),
      );
    },
  });
  return { points, end };
}

const angleOf = ([x, , z]: number[]): number => Math.atan2(-z!, x!);

describe('runs, against the direction of gravity in the surface', () => {
  it.each([
    ['a cylinder', () => 40],
    ['a cone', (v: number) => 60 - 50 * v],
  ])('go down the generators of %s', (_name, radius) => {
    const surface = layeredMeshes([turned('body', 24, 96, radius)], 0, 1);
    const { points, end } = wayOf(surface, RUNS, 96 * 20 * 2 + 7);
    expect(end).toBe('fallen');
    expect(points.at(-1)![1]).toBeCloseTo(0, 3);
    // Facets turn by 3.75°; the way stays within half of one.
    const angles = points.map(angleOf);
    expect(Math.max(...angles) - Math.min(...angles)).toBeLessThan(0.034);
    for (let i = 1; i < points.length; i++) expect(points[i]![1]!).toBeLessThan(points[i - 1]![1]! + 1e-4);
  });

  it('go straight down a tilted plane, across its edges', () => {
    const plane = reliefPlane('plane', 30, 50, (x, y) => 0.5 * x - 0.25 * y);
    const surface = layeredMeshes([plane], 0, 1);
    const { points } = wayOf(surface, { ...RUNS, down: [0, 0, -1] }, 30 * 15 * 2 + 40);
    const [first, last] = [points[0]!, points.at(-1)!];
    const [dx, dy] = [last[0]! - first[0]!, last[1]! - first[1]!];
    expect(dy / dx).toBeCloseTo(-0.5, 3);
    expect(dx).toBeLessThan(-10);
  });

  it('gather in a valley and run along it, whatever its triangles are', () => {
    // A gutter of two planes that meets at x = 0 and falls along y.
    const gutter = reliefPlane('gutter', 21, 50, (x, y) => Math.abs(x) * 0.6 + y * 0.2);
    const surface = layeredMeshes([gutter], 0, 1);
    for (const triangle of [21 * 18 * 2 + 3, 21 * 18 * 2 + 37]) {
      const { points, end } = wayOf(surface, { ...RUNS, down: [0, 0, -1] }, triangle);
      expect(end).toBe('fallen');
      expect(Math.abs(points.at(-1)![0]!)).toBeLessThan(3);
      expect(points.at(-1)![1]).toBeCloseTo(-50, 3);
    }
  });

  it('fall off what overhangs, and stay in a bowl', () => {
    const ball = layeredMeshes([sphere('ball', 50, 48, 96)], 0, 1);
    const starts = { triangles: Uint32Array.of(96 * 10), weights: Float32Array.of(0.3, 0.3) };
    const low = wayOf(ball, { ...RUNS, down: [0, 0, -1], clings: 30 }, starts.triangles[0]!);
    expect(low.end).toBe('fallen');
    // Falls where the surface leans over by 30°: at half its radius below the middle.
    expect(low.points.at(-1)![2]! / 50).toBeCloseTo(-0.5, 1);
    const bowl = layeredMeshes([reliefPlane('bowl', 40, 50, (x, y) => (x * x + y * y) / 100)], 0, 1);
    const { points, end } = wayOf(bowl, { ...RUNS, down: [0, 0, -1] }, 100);
    expect(end).toBe('pooled');
    expect(Math.hypot(points.at(-1)![0]!, points.at(-1)![1]!)).toBeLessThan(4);
  });

  it('leave and still carry what was released, on the texels too', async () => {
    const surface = layeredMeshes([turned('body', 24, 96, (v) => 60 - 50 * v)], 0, 1);
    const tile = layeredTile(surface, 1001, { width: 256, height: 256 });
    const starts = await findSources({ from: [], count: 300, seed: 5 }, surface, tile.size, inputsAt);
    expect(starts.triangles).toHaveLength(300);
    const measure = { ...RUNS, wander: 0.5 };
    const plane = new Int32Array(256 * 256);
    const { left, carried } = dropsOnTile(measure, starts, tile, plane)(0, starts.triangles.length);
    expect((left + carried) / (300 * measure.length)).toBeCloseTo(1, 6);
    const onTexels = plane.reduce((sum, units) => sum + units, 0) / 256;
    expect(onTexels / left).toBeCloseTo(1, 2);
    // In parts, in any order, the same to the bit.
    const parts = new Int32Array(256 * 256);
    for (const [from, to] of [[200, 300] as const, [0, 90] as const, [90, 200] as const])
      dropsOnTile(measure, starts, tile, parts)(from, to);
    expect(parts).toEqual(plane);
  });
});

/** The mask of one step over a tile, and where its texels lie. */
async function maskOf(step: RunsMeasure | SpreadingMeasure, surface: LayeredSurface, side: number) {
  const layer: Layer = {
    ...{ id: 'x', name: 'x', visible: true, opacity: 1, blend: 'normal', blends: {}, heightBlend: 'add' },
    ...{ normalBlend: 'detail', content: 'plain', values: { roughness: 0 } },
    mask: { steps: [{ combine: 'multiply', invert: false, strength: 1, ...step }], shaping: PLAIN_SHAPING },
  };
  const tile: LayeredTile = layeredTile(surface, 1001, { width: side, height: side });
  const processes = await prepareProcesses([layer], surface, tile.size, inputsAt);
  const inputs = { ...NO_INPUTS, processes };
  const options = { doBlocks: onThisThread(tile, 'seen') };
  const stack = { mixing: 'seen' as const, layers: [layer] };
  const { channels, states } = await composeTile(stack, ['roughness'], { tile, inputs, options });
  // The ground's roughness is laid over by 0 as far as the mask goes.
  const ground = channels.roughness!.reduce((most, value) => Math.max(most, value), 0);
  return { mask: channels.roughness!.map((value) => 1 - value / ground), states, tile };
}

describe('runs as a mask', () => {
  it('are as strong at 256 as at 1024, and as wide', async () => {
    const surface = layeredMeshes([reliefPlane('wall', 4, 50)], 0, 1);
    const measure = { ...RUNS, drops: 12, width: 4 };
    const [small, large] = [await maskOf(measure, surface, 256), await maskOf(measure, surface, 1024)];
    const mean = (values: Float32Array): number => values.reduce((sum, value) => sum + value, 0) / values.length;
    expect(mean(small.mask)).toBeGreaterThan(0.02);
    expect(mean(small.mask) / mean(large.mask)).toBeCloseTo(1, 1);
  });
});

describe('spreading, by distance along the surface', () => {
  const farthest = (surface: LayeredSurface, side: number): Promise<{ mask: Float32Array; tile: LayeredTile }> =>
    maskOf(SPREADING, surface, side);

  it('covers a disk on a plane: smooth falling over its radius, 3/10 π R² in all', async () => {
    // A single seed well inside of a large square; ∫ (1 − smoothstep(r/R)) 2πr dr = π R² · 3/10.
    const surface = layeredMeshes([reliefPlane('floor', 3, 200)], 0, 1);
    const { mask, tile } = await farthest(surface, 512);
    const area = mask.reduce((sum, value) => sum + value, 0) * tile.texel ** 2;
    expect(area / (0.3 * Math.PI * 20 ** 2)).toBeCloseTo(1, 1);
  });

  it('goes round a cylinder over its seam of UVs, and not through its wall', async () => {
    const surface = layeredMeshes([turned('pipe', 2, 48, () => 30)], 0, 1);
    const seeds = await findSources(
      { from: [], count: 1, seed: SPREADING.seed },
      surface,
      { width: 64, height: 64 },
      inputsAt,
    );
    const { mask, tile } = await farthest(surface, 512);
    // Unrolled, a cylinder is a plane: the same area, and the same distance on both sides of the seam.
    const texel = ((2 * Math.PI * 30) / 512) * (100 / 512);
    const area = mask.reduce((sum, value) => sum + value, 0) * texel;
    expect(seeds.triangles).toHaveLength(1);
    expect(area / (0.3 * Math.PI * 20 ** 2)).toBeGreaterThan(0.5);
    expect(area / (0.3 * Math.PI * 20 ** 2)).toBeLessThan(1.05);
    for (let y = 0; y < 512; y += 16) {
      expect(Math.abs(mask[y * 512]! - mask[y * 512 + 511]!)).toBeLessThan(0.1);
    }
    expect(tile.size.width).toBe(512);
  });
});

describe('on a flat tile that repeats', () => {
  const tile = flatSurface(100, 60);

  it('spreads over the borders: as much for a seed near them as for any other', async () => {
    for (let seed = 1; seed <= 12; seed++) {
      const { mask, tile: placed } = await maskOf({ ...SPREADING, seed }, tile, 256);
      const area = mask.reduce((sum, value) => sum + value, 0) * (100 / 256) * (60 / 256);
      expect(placed.size.width).toBe(256);
      expect(area / (0.3 * Math.PI * 20 ** 2)).toBeCloseTo(1, 1);
    }
  });

  it.each([0, 0.5])('lets drops run out at the bottom and in again at the top, wandering %d', async (wander) => {
    const measure = { ...RUNS, drops: 40, length: 200, width: 4, wander };
    const { mask } = await maskOf(measure, tile, 256);
    // From row to row there is no more of a step at the border than anywhere.
    const step = (row: number): number => {
      let sum = 0;
      for (let x = 0; x < 256; x++) sum += Math.abs(mask[row * 256 + x]! - mask[((row + 1) % 256) * 256 + x]!);
      return sum / 256;
    };
    const steps = Array.from({ length: 255 }, (_, row) => step(row)).sort((a, b) => a - b);
    expect(mask.some((value) => value > 0.4)).toBe(true);
    expect(step(255)).toBeLessThan(steps[250]!);
  });
});
