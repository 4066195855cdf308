/** Rays in one flat batch, so that a kernel may reorder and group them. */
export interface RayBatch {
  count: number;
  /** x, y, z for each ray. */
  origins: Float32Array;
  /** Unit x, y, z for each ray. */
  directions: Float32Array;
  /** How far each ray reaches, in mesh units. */
  lengths: Float32Array;
}

/** What each ray of a batch met. */
export interface HitBatch {
  /** The triangle in the scene, or −1 for a miss. */
  triangles: Int32Array;
  /** Distance along the ray in mesh units; meaningless for a miss. */
  distances: Float32Array;
  /** Barycentric weights of the triangle's second and third corner. */
  weights: Float32Array;
}

/** Which side of a triangle counts: a hit from behind is either ignored or taken. */
export type BackFaces = 'ignore' | 'accept';

/**
 * Casts batches of rays against one scene. The one door between baking and the tracing kernel: whoever
 * bakes knows nothing about the tree behind it.
 */
export interface Tracer {
  /** The nearest hit of each ray; of hits at equal distance the lower triangle number, where the tree meets both. */
  closestHits(rays: RayBatch, hits: HitBatch, backFaces: BackFaces): void;
  /** 1 for each ray that meets anything, else 0. */
  anyHits(rays: RayBatch, blocked: Uint8Array, backFaces: BackFaces): void;
  /** A batch for fans that lies where the tracer works, so that nothing is copied; null where none is so large. */
  fanBatch?: (capacity: number) => { rays: RayBatch; hits: HitBatch } | null;
}

export function rayBatch(capacity: number): RayBatch {
  return {
    count: 0,
    origins: new Float32Array(capacity * 3),
    directions: new Float32Array(capacity * 3),
    lengths: new Float32Array(capacity),
  };
}

export function hitBatch(capacity: number): HitBatch {
  return {
    triangles: new Int32Array(capacity),
    distances: new Float32Array(capacity),
    weights: new Float32Array(capacity * 2),
  };
}
