import type { Kernel, KernelMemory } from './kernel.ts';
import { batchAt, CAPACITY, OWN_BATCHES, ownBatchAt, planMemory, WORK_BYTES, type Rooted } from './kernelMemory.ts';
import type { BackFaces, HitBatch, RayBatch, Tracer } from './rays.ts';
import { wholeScene, type Scene, type TriangleRange } from './scene.ts';

/** A scene and its trees in kernel memory. Passing it to another thread copies nothing but these numbers. */
export interface KernelTree {
  memory: KernelMemory;
  trees: Rooted[];
  /** Where the scene's own triangles and normals lie. */
  indices: number;
  normals: number;
  /** Where each thread's own room begins. */
  rooms: number[];
  /** Behind all that: room for a receiver, once there has been one. */
  receiverRoom: { address: number; bytes: number };
}

/**
 * Builds trees over ranges of a scene's triangles in kernel memory.
 * @param instantiate makes a kernel with new memory of at least so many bytes, which tells how many triangles have
 * found their place
 * @param threads how many threads will trace it
 * @param ranges none of them empty; one tree for each
 */
export function buildKernelTree(
  scene: Scene,
  instantiate: (bytes: number, onPlaced: (triangles: number) => void) => Kernel,
  threads: number,
  ranges: readonly TriangleRange[] = [wholeScene(scene)],
  onProgress: (share: number) => void = () => {},
): KernelTree {
  const { positions, indices, normals, records, buildRoom, bytes, rooms, trees } = planMemory(scene, ranges, threads);
  const triangles = ranges.reduce((sum, { from, to }) => sum + to - from, 0);
  let before = 0;
  const { memory, exports } = instantiate(bytes, (placed) => onProgress((before + placed) / triangles));
  new Float32Array(memory.buffer, positions).set(scene.positions);
  new Uint32Array(memory.buffer, indices).set(scene.indices);
  new Float32Array(memory.buffer, normals).set(scene.normals);
  const rooted = trees.map((tree, i) => {
    const { from, to } = ranges[i]!;
    const { nodes, packets, box } = tree;
    const root = exports.build(positions, indices + from * 12, to - from, records, nodes, packets, buildRoom, box);
    before += to - from;
    return { ...tree, root };
  });
  return { memory, trees: rooted, indices, normals, rooms, receiverRoom: { address: bytes, bytes: 0 } };
}

/**
 * The fast tracer.
 * @param kernel an instance over the tree's memory, of this thread's own
 * @param thread which of the tree's rooms this thread works in
 * @param number which of the trees is traced
 */
export function kernelTracer(kernelTree: KernelTree, { exports }: Kernel, thread: number, number = 0): Tracer {
  const { buffer } = kernelTree.memory;
  const room = kernelTree.rooms[thread]!;
  const tree = kernelTree.trees[number]!;
  const copies = batchAt(buffer, room + WORK_BYTES, CAPACITY);

  /** Casts the rays in parts; those that do not lie in kernel memory are copied there. Tells where the hits are. */
  function cast(
    rays: RayBatch,
    hits: HitBatch | null,
    backFaces: BackFaces,
    any: boolean,
    took: (from: number, count: number, found: HitBatch, at: number) => void,
  ): void {
    const own = rays.origins.buffer === buffer;
    const into = hits?.triangles.buffer === buffer ? hits : null;
    for (let from = 0; from < rays.count; from += CAPACITY) {
      const count = Math.min(CAPACITY, rays.count - from);
      if (!own) {
        copies.rays.origins.set(rays.origins.subarray(from * 3, (from + count) * 3));
        copies.rays.directions.set(rays.directions.subarray(from * 3, (from + count) * 3));
        copies.rays.lengths.set(rays.lengths.subarray(from, from + count));
      }
      const { origins, directions, lengths } = own ? rays : copies.rays;
      const first = own ? from : 0;
      const found = into ?? copies.hits;
      const at = into ? from : 0;
      exports.trace(
        tree.nodes,
        tree.packets,
        tree.root,
        tree.box,
        origins.byteOffset + first * 12,
        directions.byteOffset + first * 12,
        lengths.byteOffset + first * 4,
        count,
        room,
        CAPACITY,
        backFaces === 'ignore',
        any,
        found.triangles.byteOffset + at * 4,
        found.distances.byteOffset + at * 4,
        found.weights.byteOffset + at * 8,
      );
      took(from, count, found, at);
    }
  }

  return {
    closestHits(rays: RayBatch, hits: HitBatch, backFaces) {
      cast(rays, hits, backFaces, false, (from, count, found, at) => {
        if (found !== hits) {
          hits.triangles.set(found.triangles.subarray(at, at + count), from);
          hits.distances.set(found.distances.subarray(at, at + count), from);
          hits.weights.set(found.weights.subarray(at * 2, (at + count) * 2), from * 2);
        }
        if (tree.from === 0) return;
        for (let r = from; r < from + count; r++) if (hits.triangles[r]! >= 0) hits.triangles[r]! += tree.from;
      });
    },
    anyHits(rays, blocked, backFaces) {
      cast(rays, null, backFaces, true, (from, count, found, at) => {
        for (let r = 0; r < count; r++) blocked[from + r] = found.triangles[at + r]! >= 0 ? 1 : 0;
      });
    },
    fanBatch(capacity) {
      return capacity > OWN_BATCHES.fans ? null : batchAt(buffer, ownBatchAt(room, 'fans'), OWN_BATCHES.fans);
    },
  };
}
