import { hitBatch, rayBatch, type BackFaces, type HitBatch, type RayBatch, type Tracer } from './rays.ts';

/** The group of a ray that may see nothing at all. */
export const NO_GROUP = 0xffff;

/**
 * Sends each ray of a batch to the tree of the group it may see. Groups lie block-wise next to each other, so nearly
 * all batches have but one and are handed on as they are.
 */
export class GroupTracer {
  private readonly tracers: readonly Tracer[];
  private readonly some: RayBatch;
  private readonly hits: HitBatch;
  private readonly blocked: Uint8Array;
  private readonly places: Uint32Array;

  /** @param capacity the most rays a batch may have */
  constructor(tracers: readonly Tracer[], capacity: number) {
    this.tracers = tracers;
    this.some = rayBatch(capacity);
    this.hits = hitBatch(capacity);
    this.blocked = new Uint8Array(capacity);
    this.places = new Uint32Array(capacity);
  }

  /** @param groups the number of the tracer for each ray, or NO_GROUP */
  closestHits(rays: RayBatch, groups: Uint16Array, hits: HitBatch, backFaces: BackFaces): void {
    const { hits: some, places } = this;
    this.eachGroup(
      rays,
      groups,
      (tracer) => tracer.closestHits(rays, hits, backFaces),
      (tracer, part) => {
        tracer.closestHits(part, some, backFaces);
        for (let i = 0; i < part.count; i++) {
          const r = places[i]!;
          hits.triangles[r] = some.triangles[i]!;
          hits.distances[r] = some.distances[i]!;
          hits.weights[r * 2] = some.weights[i * 2]!;
          hits.weights[r * 2 + 1] = some.weights[i * 2 + 1]!;
        }
      },
      (r) => (hits.triangles[r] = -1),
    );
  }

  anyHits(rays: RayBatch, groups: Uint16Array, blocked: Uint8Array, backFaces: BackFaces): void {
    const { blocked: some, places } = this;
    this.eachGroup(
      rays,
      groups,
      (tracer) => tracer.anyHits(rays, blocked, backFaces),
      (tracer, part) => {
        tracer.anyHits(part, some, backFaces);
        for (let i = 0; i < part.count; i++) blocked[places[i]!] = some[i]!;
      },
      (r) => (blocked[r] = 0),
    );
  }

  private eachGroup(
    rays: RayBatch,
    groups: Uint16Array,
    all: (tracer: Tracer) => void,
    part: (tracer: Tracer, some: RayBatch) => void,
    none: (ray: number) => void,
  ): void {
    const { count } = rays;
    if (count === 0) return;
    const present = new Set<number>([groups[0]!]);
    for (let r = 1; r < count; r++) if (groups[r] !== groups[r - 1]) present.add(groups[r]!);
    for (const group of present) {
      const tracer = this.tracers[group];
      if (!tracer) {
        for (let r = 0; r < count; r++) if (groups[r] === group) none(r);
      } else if (present.size === 1) all(tracer);
      else part(tracer, this.raysOf(rays, groups, group));
    }
  }

  private raysOf(rays: RayBatch, groups: Uint16Array, group: number): RayBatch {
    const { some, places } = this;
    let count = 0;
    for (let r = 0; r < rays.count; r++) {
      if (groups[r] !== group) continue;
      for (let k = 0; k < 3; k++) {
        some.origins[count * 3 + k] = rays.origins[r * 3 + k]!;
        some.directions[count * 3 + k] = rays.directions[r * 3 + k]!;
      }
      some.lengths[count] = rays.lengths[r]!;
      places[count++] = r;
    }
    some.count = count;
    return some;
  }
}
