import { batchAt } from '../trace/index.ts';
import type { HitBatch, RayBatch } from '../trace/rays.ts';

/** Paths that are followed together: as kernel/light/paths.ts has it. */
export const PATHS = 4096;
/** Bytes of each list of a room, in its order. */
const LISTS = {
  throughput: 64,
  pending: 64,
  surfaces: 48,
  sent: 16,
  weights: 16,
  shadowWeights: 16,
  backs: 24,
  firsts: 24,
  pdfs: 8,
  triangles: 4,
  slots: 4,
  samples: 4,
  seeds: 4,
  within: 4,
  rayPaths: 4,
  shadowPaths: 4,
  shadowGroups: 4,
  shadowTriangles: 4,
  shadowLeft: 4,
  opacities: 4,
  behindOf: 4,
  widths: 4,
} as const;
const BATCH_BYTES = (12 + 12 + 4 + 4 + 4 + 8) * PATHS + 2 * 16;
/** Bytes of a room. */
export const ROOM_BYTES =
  Object.values(LISTS).reduce((sum: number, bytes) => sum + bytes * PATHS, 0) + 3 * BATCH_BYTES + 64;

/** Rays, and what they have met. */
export interface Batch {
  rays: RayBatch;
  hits: HitBatch;
}

/** The lists of a room that are read and written beside the kernel. */
export interface PathRoom {
  surfaces: Float32Array;
  sent: Float32Array;
  pending: Float32Array;
  weights: Float64Array;
  triangles: Int32Array;
  slots: Int32Array;
  samples: Int32Array;
  seeds: Int32Array;
  rayPaths: Int32Array;
  opacities: Float32Array;
  behindOf: Int32Array;
  /** Width of what each path sees of the place it is at, in mesh units: what pictures are filtered over. */
  widths: Float32Array;
  shadowPaths: Int32Array;
  shadowTriangles: Int32Array;
  shadowWeights: Float64Array;
  /** Rays that extend paths, shadow rays, and what goes on of either behind holes. */
  next: Batch;
  shadows: Batch;
  behind: Batch;
}

/** @param room its address */
export function pathRoom(buffer: ArrayBufferLike, room: number): PathRoom {
  let free = room;
  const at = {} as Record<keyof typeof LISTS, number>;
  for (const name of Object.keys(LISTS) as (keyof typeof LISTS)[]) {
    at[name] = free;
    free += LISTS[name] * PATHS;
  }
  const whole = (name: keyof typeof LISTS): Int32Array => new Int32Array(buffer, at[name], PATHS);
  const floats = (name: keyof typeof LISTS): Float32Array =>
    new Float32Array(buffer, at[name], (PATHS * LISTS[name]) / 4);
  return {
    ...{
      surfaces: floats('surfaces'),
      sent: floats('sent'),
      pending: floats('pending'),
      opacities: floats('opacities'),
    },
    ...{ behindOf: whole('behindOf'), widths: floats('widths') },
    weights: new Float64Array(buffer, at.weights, PATHS * 2),
    shadowWeights: new Float64Array(buffer, at.shadowWeights, PATHS * 2),
    ...{ triangles: whole('triangles'), slots: whole('slots'), samples: whole('samples'), seeds: whole('seeds') },
    ...{ rayPaths: whole('rayPaths'), shadowPaths: whole('shadowPaths'), shadowTriangles: whole('shadowTriangles') },
    next: batchAt(buffer, free, PATHS),
    shadows: batchAt(buffer, free + BATCH_BYTES, PATHS),
    behind: batchAt(buffer, free + 2 * BATCH_BYTES, PATHS),
  };
}
