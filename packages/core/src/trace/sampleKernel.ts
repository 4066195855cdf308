import type { Kernel } from '../kernel/kernel.ts';
import { batchAt, batchBytes, BINS, BLOCK_TEXELS, OWN_BATCHES, ownBatchAt } from './kernelMemory.ts';
import { takeSpare, type KernelTree } from './kernelTree.ts';
import type { HitBatch, RayBatch } from './rays.ts';

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

/**
 * Lays a receiver into kernel memory, for the samples of all threads; it takes the place of the one before.
 * @returns null where there is no room left
 */
export function placeReceiver(tree: KernelTree, receiver: AimedSurface): PlacedReceiver | null {
  const { positions, directions, indices, reachOut, reachIn, normals, tangents } = receiver;
  const count = reachOut.length;
  const address = takeSpare(tree, count * 48 + tangents.byteLength + indices.byteLength);
  if (address === null) return null;
  const vertices = new Float32Array(tree.memory.buffer, address, count * 8);
  for (let v = 0; v < count; v++) {
    for (let k = 0; k < 3; k++) {
      vertices[v * 8 + k] = positions[v * 3 + k]!;
      vertices[v * 8 + 4 + k] = directions[v * 3 + k]!;
    }
    vertices[v * 8 + 3] = reachOut[v]!;
    vertices[v * 8 + 7] = reachIn[v]!;
  }
  const place = { vertices: address, normals: address + count * 32, tangents: 0, indices: 0 };
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
