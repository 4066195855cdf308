import type { BackFaces, HitBatch, RayBatch, Tracer } from './rays.ts';
import { wholeScene, type Scene, type TriangleRange } from './scene.ts';

/**
 * The tracing kernel (packages/core/kernel): a tree of width four whose child boxes lie side by side, triangles in
 * packets of four, and groups of rays that visit each node together. It is compiled to WebAssembly; whoever has a
 * platform instantiates it, and all threads that trace one scene share one memory.
 */
export interface Kernel {
  memory: KernelMemory;
  exports: KernelExports;
}

export interface KernelMemory {
  readonly buffer: ArrayBufferLike;
  grow(pages: number): number;
}

/** What the kernel can do; the files of kernel/ say what the numbers mean. Addresses are in bytes. */
export interface KernelExports {
  build(
    positions: number,
    indices: number,
    count: number,
    records: number,
    nodes: number,
    packets: number,
    room: number,
    box: number,
  ): number;
  trace(
    nodes: number,
    packets: number,
    root: number,
    box: number,
    origins: number,
    directions: number,
    lengths: number,
    count: number,
    room: number,
    capacity: number,
    cull: boolean,
    any: boolean,
    triangles: number,
    distances: number,
    weights: number,
  ): void;
  aim(
    count: number,
    triangles: number,
    weights: number,
    vertices: number,
    indices: number,
    origins: number,
    directions: number,
    lengths: number,
    starts: number,
  ): void;
  shade(
    count: number,
    triangles: number,
    weights: number,
    indices: number,
    normals: number,
    out: number,
    distances: number,
    starts: number,
    low: number,
    scale: number,
    bins: number,
    binCount: number,
  ): number;
  encode(
    count: number,
    texels: number,
    triangles: number,
    weights: number,
    met: number,
    normals: number,
    indices: number,
    vertices: number,
    tangents: number,
    out: number,
  ): void;
}

/** One tree over some of a scene's triangles. */
interface Rooted {
  nodes: number;
  packets: number;
  root: number;
  box: number;
  /** The first triangle it holds. */
  from: number;
}

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

/** Rays the kernel takes at once; larger batches are handed over in parts. */
const CAPACITY = 16384;
/** What the kernel works in, and the inputs and outputs of a batch behind it. */
const WORK_BYTES = CAPACITY * 66 + 1024 * 1024;
const RAY_BYTES = 12 + 12 + 4 + 4 + 4 + 8;
/** Rays of the batches that lie in kernel memory: those of a block's samples (at 4 × 4 to a texel), and of fans. */
const OWN_BATCHES = { samples: 17408, fans: 16384 } as const;
const batchBytes = (capacity: number): number => capacity * RAY_BYTES + BATCH_GAPS;
/** Four bytes behind each array of vectors, which are stored four floats at a time; in round numbers. */
const BATCH_GAPS = 64;
/** Beside its ray, each sample has a texel, a triangle, two weights, a start and a normal. */
const SAMPLE_BYTES = 2 + 4 + 16 + 4 + 12;
/** And there are bins to count in, and a mean direction for each texel of a block. */
const BINS = 64;
const BLOCK_TEXELS = 1024;
const BLOCK_BYTES = BINS * 4 + BLOCK_TEXELS * 12 + 64;
const OWN_BYTES =
  batchBytes(OWN_BATCHES.samples) + batchBytes(OWN_BATCHES.fans) + OWN_BATCHES.samples * SAMPLE_BYTES + BLOCK_BYTES;

const NODE_BYTES = 128;
const PACKET_BYTES = 160;
const RECORD_BYTES = 32;
const BUILD_ROOM = 256 * 1024;
const MEMORY_LIMIT = 2 ** 32 - 65536;

interface Plan {
  trees: Omit<Rooted, 'root'>[];
  rooms: number[];
  positions: number;
  indices: number;
  normals: number;
  records: number;
  buildRoom: number;
  bytes: number;
}

function planMemory({ positions, indices, normals }: Scene, ranges: readonly TriangleRange[], threads: number): Plan {
  let at = 1024;
  const take = (bytes: number): number => {
    const from = at;
    at = Math.ceil((at + bytes) / 64) * 64;
    return from;
  };
  const most = ranges.reduce((sum, { from, to }) => Math.max(sum, to - from), 0);
  return {
    positions: take(positions.byteLength + 16),
    indices: take(indices.byteLength),
    normals: take(normals.byteLength + 16),
    rooms: Array.from({ length: threads }, () => take(WORK_BYTES + batchBytes(CAPACITY) + OWN_BYTES)),
    buildRoom: take(BUILD_ROOM),
    records: take(most * RECORD_BYTES),
    // The most a tree can need; what it does not touch is never paid for.
    trees: ranges.map(({ from, to }) => ({
      from,
      box: take(32),
      nodes: take(((to - from) / 2 + 2) * NODE_BYTES),
      packets: take((to - from + 1) * PACKET_BYTES),
    })),
    bytes: at,
  };
}

/** Whether a scene fits into the four gigabytes that the kernel can reach. */
export const fitsKernel = (scene: Scene, ranges: readonly TriangleRange[], threads: number): boolean =>
  planMemory(scene, ranges, threads).bytes <= MEMORY_LIMIT;

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

function ownBatchAt(room: number, use: 'samples' | 'fans'): number {
  const first = room + WORK_BYTES + batchBytes(CAPACITY);
  return use === 'samples' ? first : first + batchBytes(OWN_BATCHES.samples);
}

/** A batch laid out in memory from an address on. */
function batchAt(buffer: ArrayBufferLike, address: number, capacity: number): { rays: RayBatch; hits: HitBatch } {
  const directions = address + capacity * 12 + 16;
  const lengths = directions + capacity * 12 + 16;
  const triangles = lengths + capacity * 4;
  const distances = triangles + capacity * 4;
  return {
    rays: {
      count: 0,
      origins: new Float32Array(buffer, address, capacity * 3),
      directions: new Float32Array(buffer, directions, capacity * 3),
      lengths: new Float32Array(buffer, lengths, capacity),
    },
    hits: {
      triangles: new Int32Array(buffer, triangles, capacity),
      distances: new Float32Array(buffer, distances, capacity),
      weights: new Float32Array(buffer, distances + capacity * 4, capacity * 2),
    },
  };
}

/** Where a receiver lies in kernel memory. */
export interface PlacedReceiver {
  vertices: number;
  indices: number;
  normals: number;
  tangents: number;
}

/** What of a receiver its rays are aimed by. */
export interface AimedSurface {
  positions: Float32Array;
  directions: Float32Array;
  indices: Uint32Array;
  reachOut: Float32Array;
  reachIn: Float32Array;
  normals: Float32Array;
  /** Tangent and sign of each corner. */
  tangents: Float32Array;
}

const PAGE = 65536;

/**
 * Lays a receiver into kernel memory, for the samples of all threads; it takes the place of the one before.
 * @returns null where there is no room left
 */
export function placeReceiver(tree: KernelTree, receiver: AimedSurface): PlacedReceiver | null {
  const { positions, directions, indices, reachOut, reachIn, normals, tangents } = receiver;
  const count = reachOut.length;
  const room = tree.receiverRoom;
  const bytes = count * 48 + tangents.byteLength + indices.byteLength;
  if (room.bytes < bytes) {
    const missing = room.address + bytes - tree.memory.buffer.byteLength;
    if (room.address + bytes > MEMORY_LIMIT) return null;
    if (missing > 0) tree.memory.grow(Math.ceil(missing / PAGE));
    room.bytes = bytes;
  }
  const vertices = new Float32Array(tree.memory.buffer, room.address, count * 8);
  for (let v = 0; v < count; v++) {
    for (let k = 0; k < 3; k++) {
      vertices[v * 8 + k] = positions[v * 3 + k]!;
      vertices[v * 8 + 4 + k] = directions[v * 3 + k]!;
    }
    vertices[v * 8 + 3] = reachOut[v]!;
    vertices[v * 8 + 7] = reachIn[v]!;
  }
  const place = { vertices: room.address, normals: room.address + count * 32, tangents: 0, indices: 0 };
  place.tangents = place.normals + count * 16;
  place.indices = place.tangents + tangents.byteLength;
  const fours = new Float32Array(tree.memory.buffer, place.normals, count * 4);
  for (let v = 0; v < count; v++) for (let k = 0; k < 3; k++) fours[v * 4 + k] = normals[v * 3 + k]!;
  new Float32Array(tree.memory.buffer, place.tangents, tangents.length).set(tangents);
  new Uint32Array(tree.memory.buffer, place.indices, indices.length).set(indices);
  return place;
}

/** Works on a block's samples where they lie in kernel memory. */
export interface SampleKernel {
  rays: RayBatch;
  hits: HitBatch;
  /** The texel and the receiver's triangle of each sample, and the weights of its second and third corner. */
  texels: Uint16Array;
  triangles: Uint32Array;
  weights: Float64Array;
  /** How far along its ray each sample's own place lies. */
  starts: Float32Array;
  /** The source's unit normal where each sample has met it. */
  normals: Float32Array;
  /** Aims a ray for each of so many samples. */
  aim(count: number): void;
  /**
   * Finds the normals of what they have met, and counts their heights into bins.
   * @returns samples that have met nothing
   */
  shade(count: number, low: number, scale: number, bins: number[]): number;
  /** The mean normal of each texel of the block in tangent space, x, y, z; 0 where there is none. */
  means: Float32Array;
  /** Finds them, for texels that have samples. */
  encode(count: number): void;
}

/**
 * @param capacity the most samples a block has
 * @returns null where so many do not fit
 */
export function sampleKernel(
  { memory, rooms, indices, normals }: KernelTree,
  { exports }: Kernel,
  thread: number,
  receiver: PlacedReceiver,
  capacity: number,
): SampleKernel | null {
  if (capacity > OWN_BATCHES.samples) return null;
  const { buffer } = memory;
  const first = ownBatchAt(rooms[thread]!, 'samples');
  const most = OWN_BATCHES.samples;
  const { rays, hits } = batchAt(buffer, first, most);
  const weightsAt = ownBatchAt(rooms[thread]!, 'fans') + batchBytes(OWN_BATCHES.fans);
  const trianglesAt = weightsAt + most * 16;
  const startsAt = trianglesAt + most * 4;
  const normalsAt = startsAt + most * 4;
  const binsAt = normalsAt + most * 12 + 16;
  const meansAt = binsAt + BINS * 4;
  const texelsAt = meansAt + BLOCK_TEXELS * 12 + 16;
  const bins = new Uint32Array(buffer, binsAt, BINS);
  return {
    rays,
    hits,
    means: new Float32Array(buffer, meansAt, BLOCK_TEXELS * 3),
    texels: new Uint16Array(buffer, texelsAt, most),
    triangles: new Uint32Array(buffer, trianglesAt, most),
    weights: new Float64Array(buffer, weightsAt, most * 2),
    starts: new Float32Array(buffer, startsAt, most),
    normals: new Float32Array(buffer, normalsAt, most * 3),
    aim(count) {
      const { origins, directions, lengths } = rays;
      exports.aim(
        count,
        trianglesAt,
        weightsAt,
        receiver.vertices,
        receiver.indices,
        origins.byteOffset,
        directions.byteOffset,
        lengths.byteOffset,
        startsAt,
      );
      rays.count = count;
    },
    encode(count) {
      exports.encode(
        count,
        texelsAt,
        trianglesAt,
        weightsAt,
        hits.triangles.byteOffset,
        normalsAt,
        receiver.indices,
        receiver.normals,
        receiver.tangents,
        meansAt,
      );
    },
    shade(count, low, scale, counts) {
      bins.fill(0);
      const { triangles, weights, distances } = hits;
      const missed = exports.shade(
        count,
        triangles.byteOffset,
        weights.byteOffset,
        indices,
        normals,
        normalsAt,
        distances.byteOffset,
        startsAt,
        low,
        scale,
        bins.byteOffset,
        counts.length,
      );
      for (let b = 0; b < counts.length; b++) counts[b]! += bins[b]!;
      return missed;
    },
  };
}
