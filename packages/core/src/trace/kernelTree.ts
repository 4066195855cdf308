import type { Kernel, KernelExports, KernelMemory } from '../kernel/kernel.ts';
import {
  batchAt,
  CAPACITY,
  MEMORY_LIMIT,
  OWN_BATCHES,
  ownBatchAt,
  planMemory,
  WORK_BYTES,
  type Plan,
  type Rooted,
} from './kernelMemory.ts';
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
  /** Behind all that: room for what one run works on. */
  spare: { address: number; bytes: number };
}

const PAGE = 65536;

/**
 * Takes the room behind the trees for what a run works on; what lay there before is given up.
 * @returns its address; null where the kernel cannot reach so far
 */
export function takeSpare({ memory, spare }: KernelTree, bytes: number): number | null {
  if (spare.address + bytes > MEMORY_LIMIT) return null;
  if (spare.bytes < bytes) {
    const missing = spare.address + bytes - memory.buffer.byteLength;
    if (missing > 0) memory.grow(Math.ceil(missing / PAGE));
    spare.bytes = bytes;
  }
  return spare.address;
}

/** A part of a tree that any thread can build: what `subtree` of the kernel wants, in its order. */
export type SubtreeJob = Parameters<KernelExports['subtree']>;

/**
 * Another thread that builds, while this one does its share.
 * @returns waits for the references of what it has built, or for null when it came to nothing
 */
export type BuildHelper = (memory: KernelMemory, jobs: readonly SubtreeJob[]) => () => Int32Array | null;

/** Smaller trees are built sooner than another thread has begun. */
const WORTH_HELP = 100_000;
/** The ranges of the root's children in the room of `begin`. */
const CHILDREN_AT = 4096 + 80;
const RANGE_BYTES = 80;

/**
 * Builds trees over ranges of a scene's triangles in kernel memory. A tree is the same whoever helps to build it.
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
  helper: BuildHelper | null = null,
): KernelTree {
  const plan = planMemory(scene, ranges, threads);
  const triangles = ranges.reduce((sum, { from, to }) => sum + to - from, 0);
  let before = 0;
  const kernel = instantiate(plan.bytes, (placed) => onProgress(Math.min(1, (before + placed) / triangles)));
  const { buffer } = kernel.memory;
  new Float32Array(buffer, plan.positions).set(scene.positions);
  new Uint32Array(buffer, plan.indices).set(scene.indices);
  new Float32Array(buffer, plan.normals).set(scene.normals);
  const rooted = plan.trees.map((tree, i) => {
    const { from, to } = ranges[i]!;
    const help = to - from < WORTH_HELP ? null : helper;
    const root = buildOne(kernel, plan, tree, from, to - from, help, (built) => (before += built));
    return { ...tree, root };
  });
  const { indices, normals, rooms, bytes } = plan;
  const spare = { address: bytes, bytes: 0 };
  return { memory: kernel.memory, trees: rooted, indices, normals, rooms, spare };
}

function buildOne(
  kernel: Kernel,
  plan: Plan,
  tree: Plan['trees'][number],
  from: number,
  count: number,
  helper: BuildHelper | null,
  onBuilt: (triangles: number) => void,
): number {
  const { memory, exports } = kernel;
  const { positions, records, buildRooms } = plan;
  const { nodes, packets, box } = tree;
  const [sorting, own, others] = buildRooms;
  const first = plan.indices + from * 12;
  const children = exports.begin(positions, first, count, records, nodes, packets, sorting, box);
  if (children === 0) {
    onBuilt(count);
    return -1;
  }
  const jobs = Array.from({ length: children }, (_, child) => {
    const range = sorting + CHILDREN_AT + child * RANGE_BYTES;
    const [start, end] = new Uint32Array(memory.buffer, range, 2);
    const node = Math.floor(start! / 2) + child + 1;
    const job: SubtreeJob = [positions, first, records, nodes, packets, own, range, node, start!, exports.grownBy()];
    return { child, size: end! - start!, job };
  }).sort((a, b) => b.size - a.size);
  const [mine, its] = shared(jobs, helper !== null);
  const wait = helper?.(
    memory,
    its.map(({ job }) => inRoom(job, others)),
  );
  for (const { child, size, job } of mine) {
    exports.hang(nodes, child, exports.subtree(...job));
    onBuilt(size);
  }
  if (wait) {
    const references = wait();
    // What a thread that died has left half sorted is of no use.
    if (!references) return buildOne(kernel, plan, tree, from, count, null, () => {});
    its.forEach(({ child }, i) => exports.hang(nodes, child, references[i]!));
  }
  return 0;
}

/** Parts of about the same size: each of the largest left goes where there is less. */
function shared<T extends { size: number }>(jobs: readonly T[], isHelped: boolean): [mine: T[], its: T[]] {
  const parts: [T[], T[]] = [[], []];
  const sums = [0, isHelped ? 0 : Infinity];
  for (const job of jobs) {
    const part = sums[0]! <= sums[1]! ? 0 : 1;
    parts[part].push(job);
    sums[part]! += job.size;
  }
  return parts;
}

const inRoom = (job: SubtreeJob, room: number): SubtreeJob =>
  job.map((value, i) => (i === 5 ? room : value)) as SubtreeJob;

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
