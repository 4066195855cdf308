import type { HitBatch, RayBatch } from './rays.ts';
import type { Scene, TriangleRange } from './scene.ts';

/** One tree over some of a scene's triangles. */
export interface Rooted {
  nodes: number;
  packets: number;
  root: number;
  box: number;
  /** The first triangle it holds. */
  from: number;
}

/** Rays the kernel takes at once; larger batches are handed over in parts. */
export const CAPACITY = 16384;
/** What the kernel works in, and the inputs and outputs of a batch behind it. */
export const WORK_BYTES = CAPACITY * 66 + 1024 * 1024;
const RAY_BYTES = 12 + 12 + 4 + 4 + 4 + 8;
/** Rays of the batches that lie in kernel memory: those of a block's samples (at 4 × 4 to a texel), and of fans. */
export const OWN_BATCHES = { samples: 17408, fans: 16384 } as const;
export const batchBytes = (capacity: number): number => capacity * RAY_BYTES + BATCH_GAPS;
/** Four bytes behind each array of vectors, which are stored four floats at a time; in round numbers. */
const BATCH_GAPS = 64;
/** Beside its ray, each sample has a texel, a triangle, two weights, a start and a normal. */
const SAMPLE_BYTES = 2 + 4 + 16 + 4 + 12;
/** And there are bins to count in, and a mean direction for each texel of a block. */
export const BINS = 64;
export const BLOCK_TEXELS = 1024;
const BLOCK_BYTES = BINS * 4 + BLOCK_TEXELS * 12 + 64;
const OWN_BYTES =
  batchBytes(OWN_BATCHES.samples) + batchBytes(OWN_BATCHES.fans) + OWN_BATCHES.samples * SAMPLE_BYTES + BLOCK_BYTES;

const NODE_BYTES = 128;
const PACKET_BYTES = 160;
const RECORD_BYTES = 32;
const BUILD_ROOM = 256 * 1024;
export const MEMORY_LIMIT = 2 ** 32 - 65536;

export interface Plan {
  trees: Omit<Rooted, 'root'>[];
  rooms: number[];
  positions: number;
  indices: number;
  normals: number;
  records: number;
  /** Rooms to build in: for what is sorted first, and for each thread. */
  buildRooms: [number, number, number];
  bytes: number;
}

export function planMemory(
  { positions, indices, normals }: Scene,
  ranges: readonly TriangleRange[],
  threads: number,
): Plan {
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
    buildRooms: [take(BUILD_ROOM), take(BUILD_ROOM), take(BUILD_ROOM)],
    records: take(most * RECORD_BYTES),
    // The most a tree can need; what it does not touch is never paid for.
    trees: ranges.map(({ from, to }) => ({
      from,
      box: take(32),
      // The root, and for each of its four children a node to spare.
      nodes: take(((to - from) / 2 + 8) * NODE_BYTES),
      packets: take((to - from + 1) * PACKET_BYTES),
    })),
    bytes: at,
  };
}

/** Whether a scene fits into the four gigabytes that the kernel can reach. */
export const fitsKernel = (scene: Scene, ranges: readonly TriangleRange[], threads: number): boolean =>
  planMemory(scene, ranges, threads).bytes <= MEMORY_LIMIT;

export function ownBatchAt(room: number, use: 'samples' | 'fans'): number {
  const first = room + WORK_BYTES + batchBytes(CAPACITY);
  return use === 'samples' ? first : first + batchBytes(OWN_BATCHES.samples);
}

/** A batch laid out in memory from an address on. */
export function batchAt(
  buffer: ArrayBufferLike,
  address: number,
  capacity: number,
): { rays: RayBatch; hits: HitBatch } {
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
