import { BufferAttribute, BufferGeometry, PerspectiveCamera, Ray, Vector3 } from 'three';
import { MeshBVH, type SerializedBVH } from 'three-mesh-bvh';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { joinMeshes, type Mesh } from '@zographos/core/mesh';
import { reliefPlane, sphere } from '@zographos/core/testing';
import { packMesh } from '@zographos/formats/packed-mesh';
import { workerScope } from '../testing/workerScope.ts';
import type { Geometry, GeometryAnswer, GeometryRequest } from './geometry/geometryWorker.ts';
import type { PickingAnswer, PickingRequest } from './pickingWorker.ts';
import { Picker } from './picking.ts';

afterEach(() => vi.unstubAllGlobals());

/** A server of packed meshes by their addresses. */
function served(meshes: Record<string, Mesh>): void {
  vi.stubGlobal('fetch', (url: string) =>
    Promise.resolve(meshes[url] ? new Response(packMesh(meshes[url])) : new Response('', { status: 404 })),
  );
}
const onTile = (mesh: Mesh, du: number): Mesh => ({
  ...mesh,
  uvSets: mesh.uvSets.map((set) => ({
    ...set,
    coords: set.coords.map((value, i) => value * 0.9 + 0.05 + (i % 2 === 0 ? du : 0)),
  })),
});

async function geometryOf(request: Omit<GeometryRequest, 'id'>): Promise<GeometryAnswer> {
  const scope = await workerScope<GeometryRequest, GeometryAnswer>(() => import('./geometry/geometryWorker.ts'));
  scope.send({ id: 7, ...request });
  return scope.next();
}
const geometry = (answer: GeometryAnswer): Geometry => {
  if ('error' in answer) throw new Error(answer.error);
  return answer.geometry;
};

describe('geometry for the view', () => {
  const two = joinMeshes('two', [
    onTile(
      reliefPlane('b', 2, 1, (x) => x * x),
      1,
    ),
    onTile(reliefPlane('a', 3, 1), 0),
  ]);

  it('has its corners tile after tile, each with UVs from the origin of its tile and the vertex it was', async () => {
    served({ '/a': two });
    const { positions, uvs, tiles, vertices, triangles, tangents, indices, radius, centre } = geometry(
      await geometryOf({ urls: ['/a'], uvSet: 0 }),
    );
    expect(tiles).toEqual([
      { tile: 1001, from: 0, count: 3 * 18 },
      { tile: 1002, from: 3 * 18, count: 3 * 8 },
    ]);
    expect(indices).toBeNull();
    for (let c = 0; c < vertices!.length; c++) {
      const v = vertices![c]!;
      expect(positions.subarray(c * 3, c * 3 + 3)).toEqual(two.positions.subarray(v * 3, v * 3 + 3));
      expect(uvs![c * 2]! > 0 && uvs![c * 2]! < 1).toBe(true);
      expect(Math.abs(tangents![c * 4 + 3]!)).toBe(1);
    }
    expect([...triangles!].toSorted((a, b) => a - b)).toEqual(Array.from({ length: 26 }, (_, t) => t));
    const far = Math.max(
      ...Array.from({ length: positions.length / 3 }, (_, i) =>
        Math.hypot(...[0, 1, 2].map((k) => positions[i * 3 + k]! - centre[k]!)),
      ),
    );
    expect(radius).toBeGreaterThanOrEqual(far - 1e-6);
  });

  it('without UVs stays indexed', async () => {
    const bare = { ...sphere('ball', 1, 4, 6), uvSets: [] };
    served({ '/a': bare });
    const answer = geometry(await geometryOf({ urls: ['/a'], uvSet: 0 }));
    expect([answer.uvs, answer.tangents, answer.directions]).toEqual([null, null, null]);
    expect(answer.indices).toEqual(bare.indices);
  });

  it('of several meshes is one, and is split for displacement as far as was asked for', async () => {
    served({ '/a': onTile(reliefPlane('a', 1, 1), 0), '/b': onTile(reliefPlane('b', 1, 1), 1) });
    const answer = geometry(await geometryOf({ urls: ['/a', '/b'], uvSet: 0, most: 100 }));
    // Four triangles, split twice: 64; a third time would be more than a hundred.
    expect(answer.positions.length / 9).toBe(64);
    expect(answer.tiles).toEqual([
      { tile: 1001, from: 0, count: 96 },
      { tile: 1002, from: 96, count: 96 },
    ]);
    expect([answer.vertices, answer.triangles]).toEqual([null, null]);
  });

  it('that cannot be had is an error in words, and the next one is answered', async () => {
    served({ '/a': two });
    const scope = await workerScope<GeometryRequest, GeometryAnswer>(() => import('./geometry/geometryWorker.ts'));
    scope.send({ id: 1, urls: ['/gone'], uvSet: 0 });
    expect(await scope.next()).toEqual({ id: 1, error: 'The mesh could not be fetched from the server.' });
    scope.send({ id: 2, urls: ['/a'], uvSet: 0 });
    expect((await scope.next()).id).toBe(2);
  });
});

describe('picking', () => {
  const ball = sphere('ball', 1, 24, 32);
  const own = (): BufferGeometry =>
    new BufferGeometry()
      .setAttribute('position', new BufferAttribute(ball.positions.slice(), 3))
      .setIndex(new BufferAttribute(ball.indices.slice(), 1));

  it('hits what is under a point of the view, and nothing beside the mesh', async () => {
    const scope = await workerScope<PickingRequest, PickingAnswer>(() => import('./pickingWorker.ts'));
    scope.send({ number: 3, positions: ball.positions.slice(), indices: ball.indices.slice() });
    const { number, bvh } = await scope.next();
    expect(number).toBe(3);
    const tree = MeshBVH.deserialize(bvh as SerializedBVH, own(), { setIndex: false });
    const hit = tree.raycastFirst(new Ray(new Vector3(3, 0.1, 0.2), new Vector3(-1, 0, 0)), 2)!;
    expect(hit.point.length()).toBeCloseTo(1, 1);
    // The face is that of the mesh, in its own order.
    const corner = ball.indices[hit.faceIndex! * 3]! * 3;
    expect(hit.point.distanceTo(new Vector3(...ball.positions.subarray(corner, corner + 3)))).toBeLessThan(0.4);
  });

  it('hits nothing until its tree is there, and never one that is out of date', () => {
    const workers: { onmessage: ((event: { data: PickingAnswer }) => void) | null; sent: PickingRequest[] }[] = [];
    vi.stubGlobal(
      'Worker',
      class {
        onmessage = null;
        sent: PickingRequest[] = [];
        constructor() {
          workers.push(this);
        }
        postMessage(request: PickingRequest): void {
          this.sent.push(structuredClone(request));
        }
        terminate(): void {}
      },
    );
    const picker = new Picker();
    const camera = new PerspectiveCamera(40, 1, 0.1, 10);
    camera.position.set(0, 0, 5);
    camera.lookAt(0, 0, 0);
    camera.updateMatrixWorld();
    picker.prepare(own());
    picker.prepare(own());
    expect(workers).toHaveLength(1);
    expect(picker.under(0.5, 0.5, camera)).toBeNull();
    const [worker] = workers;
    const treeOf = ({ number, positions, indices }: PickingRequest): PickingAnswer => {
      const made = new BufferGeometry()
        .setAttribute('position', new BufferAttribute(positions, 3))
        .setIndex(new BufferAttribute(indices!, 1));
      return { number, bvh: MeshBVH.serialize(new MeshBVH(made, { indirect: true })) };
    };
    worker!.onmessage!({ data: treeOf(worker!.sent[0]!) });
    expect(picker.under(0.5, 0.5, camera)).toBeNull();
    worker!.onmessage!({ data: treeOf(worker!.sent[1]!) });
    expect(picker.under(0.5, 0.5, camera)!.point.z).toBeCloseTo(1, 2);
    expect(picker.under(0.01, 0.01, camera)).toBeNull();
    picker.close();
    expect(picker.under(0.5, 0.5, camera)).toBeNull();
  });
});
