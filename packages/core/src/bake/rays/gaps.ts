import { boundsOf, diagonal } from '../../mesh/bounds.ts';
import { triangleArea } from '../../mesh/triangleArea.ts';
import { GroupTracer } from '../../trace/groupTracer.ts';
import { hitBatch, rayBatch, type HitBatch, type RayBatch, type Tracer } from '../../trace/rays.ts';
import type { Scene } from '../../trace/scene.ts';
import { facesAlong } from '../../mesh/triangleFace.ts';

/** How far the source is looked for, as a share of the receiver's diagonal. */
const SEARCH = 0.15;
/** Places measured on one triangle at the most. */
const PER_TRIANGLE = 4096;
/** Rays cast at once. */
const BATCH = 65536;

/** The surface whose distance from the source is measured. */
export interface MeasuredSurface {
  positions: Float32Array;
  indices: Uint32Array;
  /** Along which rays will leave each vertex. */
  directions: Float32Array;
  /** The group of source triangles that each triangle may see; left out, the first. */
  groups?: Uint16Array;
}

/** Distances between a receiver and its source, at places spread over the receiver. */
export interface Gaps {
  /** The triangle of each place. */
  triangles: Uint32Array;
  /** How far the source lies above each place; −1 where it does not. */
  above: Float32Array;
  /** How far it lies below; −1 where it does not, or lies above. */
  below: Float32Array;
  /** Size of the receiver: the diagonal of its box. */
  size: number;
}

/**
 * Looks outwards from each place for the surface it may lie beneath, else inwards for the one it lies above.
 * @param places about so many, by area
 */
export function measureGaps(surface: MeasuredSurface, scene: Scene, tracers: readonly Tracer[], places: number): Gaps {
  const size = diagonal(boundsOf(surface.positions));
  const counts = placesOfTriangles(surface, places);
  const total = counts.reduce((sum, count) => sum + count, 0);
  const gaps: Gaps = {
    triangles: new Uint32Array(total),
    above: new Float32Array(total).fill(-1),
    below: new Float32Array(total).fill(-1),
    size,
  };
  let at = 0;
  counts.forEach((count, t) => {
    gaps.triangles.fill(t, at, at + count);
    at += count;
  });
  const casting = new GapRays(surface, scene, new GroupTracer(tracers, BATCH), size);
  let first = 0;
  for (let from = 0; from < total; from += BATCH) {
    const to = Math.min(total, from + BATCH);
    first = casting.measure(gaps, counts, from, to, first);
  }
  return gaps;
}

/** How many places lie on each triangle: about so many together, by area, and one at least. */
export function placesOfTriangles({ positions, indices }: MeasuredSurface, places: number): Uint32Array {
  const areas = Float64Array.from({ length: indices.length / 3 }, (_, t) => triangleArea(positions, 3, indices, t));
  const sum = areas.reduce((total, area) => total + area, 0) || 1;
  return Uint32Array.from(areas, (area) => Math.max(1, Math.min(PER_TRIANGLE, Math.round((places * area) / sum))));
}

class GapRays {
  private readonly inward = rayBatch(BATCH);
  private readonly outward = rayBatch(BATCH);
  private readonly hits: HitBatch = hitBatch(BATCH);
  private readonly groups = new Uint16Array(BATCH);
  private readonly surface: MeasuredSurface;
  private readonly scene: Scene;
  private readonly tracer: GroupTracer;
  private readonly size: number;

  constructor(surface: MeasuredSurface, scene: Scene, tracer: GroupTracer, size: number) {
    this.surface = surface;
    this.scene = scene;
    this.tracer = tracer;
    this.size = size;
  }

  /** @param nth the number of the first place within its triangle; returns that of the next batch */
  measure(gaps: Gaps, counts: Uint32Array, from: number, to: number, nth: number): number {
    const { inward, outward, hits, groups, surface, size } = this;
    for (let i = from; i < to; i++) {
      const t = gaps.triangles[i]!;
      placeRay(surface, t, nth, outward, i - from);
      groups[i - from] = surface.groups?.[t] ?? 0;
      nth = nth + 1 === counts[t] ? 0 : nth + 1;
    }
    inward.origins.set(outward.origins);
    for (let k = 0; k < (to - from) * 3; k++) inward.directions[k] = -outward.directions[k]!;
    inward.count = to - from;
    outward.count = to - from;
    inward.lengths.fill(size * SEARCH);
    outward.lengths.fill(size * SEARCH);
    gaps.above.set(this.leavingDistances().subarray(0, to - from), from);
    this.tracer.closestHits(inward, groups, hits, 'ignore');
    for (let i = 0; i < to - from; i++) {
      if (gaps.above[from + i]! < 0 && hits.triangles[i]! >= 0) gaps.below[from + i] = hits.distances[i]!;
    }
    return nth;
  }

  /**
   * How far each outward ray travels inside the source before it leaves it for good. Raised detail often stands in the
   * body it decorates, so a ray that leaves one solid may still be inside the next; it goes on until it meets a
   * surface from outside, or nothing.
   * @returns mesh units for each ray; −1 where the ray starts outside
   */
  private leavingDistances(): Float32Array {
    const { outward: rays, hits, groups, scene } = this;
    const leaving = new Float32Array(BATCH).fill(-1);
    const travelled = new Float32Array(BATCH);
    const step = this.size * 1e-6;
    for (let solid = 0; solid < 4; solid++) {
      this.tracer.closestHits(rays, groups, hits, 'accept');
      for (let i = 0; i < rays.count; i++) {
        const [dx, dy, dz] = [rays.directions[i * 3]!, rays.directions[i * 3 + 1]!, rays.directions[i * 3 + 2]!];
        const triangle = hits.triangles[i]!;
        if (triangle < 0 || rays.lengths[i]! < 0 || !facesAlong(scene, triangle, dx, dy, dz)) {
          rays.lengths[i] = -1;
          continue;
        }
        const distance = hits.distances[i]! + step;
        travelled[i]! += distance;
        leaving[i] = travelled[i]!;
        rays.origins[i * 3]! += dx * distance;
        rays.origins[i * 3 + 1]! += dy * distance;
        rays.origins[i * 3 + 2]! += dz * distance;
        rays.lengths[i]! -= distance;
      }
    }
    return leaving;
  }
}

/**
 * Puts a ray on one of the places of a triangle, outwards along the direction there.
 * @param nth the number of the place within the triangle
 * @returns the weights of the triangle's corners at the place
 */
export function placeRay(
  { positions, directions, indices }: MeasuredSurface,
  t: number,
  nth: number,
  rays: RayBatch,
  at: number,
): [number, number, number] {
  const weights = spread(nth, t);
  const [wa, wb, wc] = weights;
  const a = indices[t * 3]! * 3;
  const b = indices[t * 3 + 1]! * 3;
  const c = indices[t * 3 + 2]! * 3;
  const mix = (of: Float32Array, k: number): number => of[a + k]! * wa + of[b + k]! * wb + of[c + k]! * wc;
  const length = Math.hypot(mix(directions, 0), mix(directions, 1), mix(directions, 2)) || 1;
  for (let k = 0; k < 3; k++) {
    rays.origins[at * 3 + k] = mix(positions, k);
    rays.directions[at * 3 + k] = mix(directions, k) / length;
  }
  return weights;
}

/** Barycentric weights spread over a triangle: an R2 sequence (Roberts 2018), folded into the triangle. */
function spread(index: number, seed: number): [number, number, number] {
  let u = (0.5 + index * 0.7548776662466927 + seed * 0.618033988749895) % 1;
  let v = (0.5 + index * 0.5698402909980532 + seed * 0.414213562373095) % 1;
  if (u + v > 1) {
    u = 1 - u;
    v = 1 - v;
  }
  return [1 - u - v, u, v];
}
