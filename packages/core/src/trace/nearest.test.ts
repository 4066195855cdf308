import { BufferAttribute, BufferGeometry, Vector3 } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { describe, expect, it } from 'vitest';
import { joinMeshes } from '../mesh/join.ts';
import { randomNumbers, reliefPlane, sphere } from '../testing/shapes.ts';
import { buildBvh } from './bvh.ts';
import { bvhTracer } from './bvhTracer.ts';
import { GroupTracer, NO_GROUP } from './groupTracer.ts';
import { NearestPlace } from './nearestPlace.ts';
import { hitBatch, rayBatch } from './rays.ts';
import { sceneOf, wholeScene } from './scene.ts';

describe('the nearest place', () => {
  it('is as far as three-mesh-bvh finds it, and lies in its triangle', () => {
    const mesh = joinMeshes('some', [sphere('ball', 1, 12, 18), reliefPlane('deck', 5, 2, (x, y) => 0.3 * x * y)]);
    const geometry = new BufferGeometry();
    geometry.setAttribute('position', new BufferAttribute(mesh.positions.slice(), 3));
    geometry.setIndex(new BufferAttribute(mesh.indices.slice(), 1));
    const reference = new MeshBVH(geometry, { indirect: true });
    const nearest = new NearestPlace(buildBvh(sceneOf([mesh])));
    const hits = hitBatch(1);
    const random = randomNumbers(3);
    for (let i = 0; i < 500; i++) {
      const point = [0, 1, 2].map(() => (random() - 0.5) * 6) as [number, number, number];
      nearest.find(...point, Infinity, hits, 0);
      const expected = reference.closestPointToPoint(new Vector3(...point))!;
      expect(hits.distances[0]).toBeCloseTo(expected.distance, 4);
      const [b, c] = hits.weights;
      expect(b! >= -1e-6 && c! >= -1e-6 && b! + c! <= 1 + 1e-6).toBe(true);
      // The place that the weights say is as far away.
      const corners = [0, 1, 2].map((k) => mesh.indices[hits.triangles[0]! * 3 + k]! * 3);
      const at = [0, 1, 2].map((k) => {
        const [p, q, r] = corners.map((corner) => mesh.positions[corner + k]!);
        return p! + (q! - p!) * b! + (r! - p!) * c!;
      });
      expect(Math.hypot(...at.map((value, k) => value - point[k]!))).toBeCloseTo(expected.distance, 4);
    }
  });

  it('beyond reach is a miss, and its number counts from the first of the scene', () => {
    const nearest = new NearestPlace(buildBvh(sceneOf([reliefPlane('deck', 1, 1)])), 10);
    const hits = hitBatch(1);
    nearest.find(0, 0, 2, 1.9, hits, 0);
    expect(hits.triangles[0]).toBe(-1);
    nearest.find(0.2, -0.1, 2, 2.1, hits, 0);
    expect(hits.triangles[0]).toBe(10);
    expect(hits.distances[0]).toBeCloseTo(2, 6);
  });
});

describe('rays of several groups', () => {
  const near = sphere('near', 1, 8, 12);
  const far = sphere('far', 2, 8, 12);
  const tracers = [near, far].map((mesh) => bvhTracer(buildBvh(sceneOf([mesh]))));
  const rays = rayBatch(4);
  rays.count = 4;
  for (let r = 0; r < 4; r++) {
    rays.origins.set([5, 0.1, 0.1], r * 3);
    rays.directions.set([-1, 0, 0], r * 3);
    rays.lengths[r] = 10;
  }

  it('see what their group has, and nothing where they have none', () => {
    const group = new GroupTracer(tracers, 4);
    const hits = hitBatch(4);
    group.closestHits(rays, Uint16Array.from([1, 0, NO_GROUP, 1]), hits, 'ignore');
    expect(hits.triangles[2]).toBe(-1);
    expect(hits.distances[0]).toBeGreaterThan(2.9);
    expect(hits.distances[0]).toBeLessThan(3.2);
    expect(hits.distances[1]).toBeGreaterThan(3.9);
    expect(hits.distances[3]).toBe(hits.distances[0]);
    const blocked = new Uint8Array(4).fill(9);
    group.anyHits(rays, Uint16Array.from([1, 0, NO_GROUP, 1]), blocked, 'ignore');
    expect([...blocked]).toEqual([1, 1, 0, 1]);
  });

  it('of one group are as if there were no groups', () => {
    const hits = hitBatch(4);
    new GroupTracer(tracers, 4).closestHits(rays, new Uint16Array(4), hits, 'accept');
    const plain = hitBatch(4);
    tracers[0]!.closestHits(rays, plain, 'accept');
    expect(hits).toEqual(plain);
    rays.count = 0;
    new GroupTracer(tracers, 4).closestHits(rays, new Uint16Array(4), hits, 'accept');
    expect(hits).toEqual(plain);
    rays.count = 4;
  });
});

describe('a scene', () => {
  it('numbers triangles on from mesh to mesh, in memory that threads share', () => {
    const [a, b] = [reliefPlane('a', 1, 1), sphere('b', 1, 3, 4)];
    const scene = sceneOf([a, b]);
    expect(scene.positions.buffer).toBeInstanceOf(SharedArrayBuffer);
    expect(wholeScene(scene)).toEqual({ from: 0, to: (a.indices.length + b.indices.length) / 3 });
    const first = scene.indices[a.indices.length]!;
    expect([...scene.positions.subarray(first * 3, first * 3 + 3)]).toEqual([
      ...b.positions.subarray(b.indices[0]! * 3, b.indices[0]! * 3 + 3),
    ]);
  });
});

describe('the tree', () => {
  it('holds each triangle once, each within the box of its leaf', () => {
    const mesh = sphere('ball', 1, 10, 14);
    const { bounds, first, counts, order, corners } = buildBvh(sceneOf([mesh]));
    expect([...order].sort((a, b) => a - b)).toEqual(Array.from({ length: mesh.indices.length / 3 }, (_, i) => i));
    const open = [0];
    let leaves = 0;
    while (open.length > 0) {
      const node = open.pop()!;
      if (counts[node] === 0) {
        open.push(first[node]!, first[node]! + 1);
        continue;
      }
      leaves += counts[node]!;
      for (let i = first[node]!; i < first[node]! + counts[node]!; i++) {
        for (let k = 0; k < 9; k++) {
          const [low, high] = [bounds[node * 6 + (k % 3)]!, bounds[node * 6 + 3 + (k % 3)]!];
          expect(corners[i * 9 + k]! >= low - 1e-6 && corners[i * 9 + k]! <= high + 1e-6).toBe(true);
        }
      }
    }
    expect(leaves).toBe(order.length);
  });
});
