import { describe, expect, it } from 'vitest';
import type { Mesh } from '../../src/mesh/mesh.ts';
import { bunny, stanfordDragon } from '../../src/testing/scans.ts';
import { meshOf, randomNumbers, sphere } from '../../src/testing/shapes.ts';
import { buildBvh } from '../../src/trace/bvh.ts';
import { bvhTracer } from '../../src/trace/bvhTracer.ts';
import { hitBatch, rayBatch, type BackFaces, type RayBatch, type Tracer } from '../../src/trace/rays.ts';
import { sceneOf } from '../../src/trace/scene.ts';
import { kernelOn } from './loadKernel.ts';

const plainOn = (mesh: Mesh): Tracer => bvhTracer(buildBvh(sceneOf([mesh])));

/** Rays from around the mesh, most of them aimed at it; `spread` in sizes of the mesh. */
function raysAt(mesh: Mesh, count: number, spread: number): RayBatch {
  const random = randomNumbers(4);
  const { positions } = mesh;
  const size = Math.max(...positions.map(Math.abs));
  const rays = rayBatch(count);
  rays.count = count;
  for (let r = 0; r < count; r++) {
    const at = Math.floor((random() * positions.length) / 3) * 3;
    const origin = [0, 1, 2].map(() => (random() - 0.5) * spread * size);
    const aim = [0, 1, 2].map((k) => positions[at + k]! + (random() - 0.5) * 0.03 * size - origin[k]!);
    // A few straight along an axis, where slab and shear divide by zero.
    if (r % 50 === 0) aim.fill(0).splice(r % 3, 1, random() < 0.5 ? -1 : 1);
    const length = Math.hypot(...aim);
    rays.origins.set(origin, r * 3);
    rays.directions.set(
      aim.map((value) => value / length),
      r * 3,
    );
    rays.lengths[r] = r % 7 === 0 ? length : 20 * spread * size;
  }
  return rays;
}

/** How often kernel and plain tracer disagree in more than rounding. */
function disagreements(mesh: Mesh, rays: RayBatch, backFaces: BackFaces): { hits: number; odd: number } {
  const [{ tracer: kernel }, plain] = [kernelOn(mesh), plainOn(mesh)];
  const [ours, expected] = [hitBatch(rays.count), hitBatch(rays.count)];
  kernel.closestHits(rays, ours, backFaces);
  plain.closestHits(rays, expected, backFaces);
  const blocked = new Uint8Array(rays.count);
  kernel.anyHits(rays, blocked, backFaces);
  let [hits, odd] = [0, 0];
  for (let r = 0; r < rays.count; r++) {
    const [a, b] = [ours.triangles[r]!, expected.triangles[r]!];
    expect(blocked[r]).toBe(a >= 0 ? 1 : 0);
    if (b >= 0) hits++;
    if (a >= 0 !== b >= 0) odd++;
    else if (a >= 0) {
      const difference = Math.abs(ours.distances[r]! - expected.distances[r]!) / expected.distances[r]!;
      if (difference > 2e-6) odd++;
      else if (a === b) expect(Math.abs(ours.weights[r * 2]! - expected.weights[r * 2]!)).toBeLessThan(1e-3);
    }
  }
  return { hits, odd };
}

describe('the kernel', () => {
  it('meets what the plain tracer meets, on open scans and from near and far', async () => {
    for (const mesh of [await bunny(), await stanfordDragon(4)]) {
      for (const spread of [2, 2000]) {
        for (const side of ['ignore', 'accept'] as const) {
          const { hits, odd } = disagreements(mesh, raysAt(mesh, 20_000, spread), side);
          expect(hits).toBeGreaterThan(8_000);
          // Silhouettes seen within rounding: single precision may see them, double not, or the reverse.
          expect(odd).toBeLessThanOrEqual(4);
        }
      }
    }
  });

  it('has no leak in a closed mesh: two million rays from near and far, most at vertices and edges (Woop, Benthin, Wald 2013)', () => {
    const ball = sphere('ball', 1, 160, 320);
    const { tracer } = kernelOn(ball);
    const random = randomNumbers(9);
    const count = 200_000;
    const rays = rayBatch(count);
    rays.count = count;
    const blocked = new Uint8Array(count);
    for (let round = 0; round < 10; round++) {
      for (let r = 0; r < count; r++) {
        const t = Math.floor(random() * (ball.indices.length / 3)) * 3;
        // A quarter at vertices, half at edges, a quarter anywhere.
        const w = r % 4 === 0 ? [1, 0, 0] : r % 4 === 3 ? [random(), random(), random()] : [random(), 1, 0];
        const sum = w[0]! + w[1]! + w[2]!;
        const target = [0, 1, 2].map((k) =>
          w.reduce((at, weight, c) => at + (ball.positions[ball.indices[t + c]! * 3 + k]! * weight) / sum, 0),
        );
        // From inside, and from outside to the far side: near, and a thousand and a million radii away.
        const far = [0, 0, 3, 1e3, 1e6][r % 5]!;
        const origin = target.map((value) => (far === 0 ? (random() - 0.5) * 0.9 : -value * far));
        const aim = target.map((value, k) => value - origin[k]!);
        const length = Math.hypot(...aim);
        for (let k = 0; k < 3; k++) {
          rays.origins[r * 3 + k] = origin[k]!;
          rays.directions[r * 3 + k] = aim[k]! / length;
        }
        rays.lengths[r] = length * 2 + 10;
      }
      tracer.anyHits(rays, blocked, 'accept');
      expect(blocked.reduce((sum, value) => sum + value, 0)).toBe(count);
    }
  });

  it('takes triangles that lie in one place, of no size, and a single one', () => {
    const ball = sphere('ball', 1, 20, 40);
    const stacked = Uint32Array.from({ length: 30_000 }, (_, i) => ball.indices[600 + (i % 3)]!);
    const shrunk = Uint32Array.from({ length: 30_000 }, (_, i) => ball.indices[Math.floor(i / 3) % 1000]!);
    for (const indices of [stacked, shrunk, ball.indices.slice(600, 603)]) {
      const mesh = meshOf('odd', ball.positions, ball.normals, indices);
      const { odd } = disagreements(mesh, raysAt(ball, 2000, 3), 'accept');
      expect(odd).toBe(0);
    }
  });

  it('of hits at equal distance gives the lower triangle', () => {
    const [a, b] = [sphere('ball', 1, 20, 40), sphere('ball', 1, 20, 40)];
    const { tracer } = kernelOn(a, b);
    const rays = raysAt(a, 5000, 3);
    const hits = hitBatch(rays.count);
    tracer.closestHits(rays, hits, 'ignore');
    expect(Math.max(...hits.triangles)).toBeLessThan(a.indices.length / 3);
  });
});
