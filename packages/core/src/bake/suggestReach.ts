import { boundsOf, diagonal } from '../mesh/bounds.ts';
import { smoothNormals } from '../mesh/normals.ts';
import type { Mesh } from '../mesh/mesh.ts';
import { hitBatch, rayBatch, type RayBatch, type Tracer } from '../trace/rays.ts';
import { facesAlong, type Scene } from '../trace/scene.ts';
import type { Reach } from './settings.ts';

export interface SuggestedReach extends Reach {
  /** Share of the places measured, 0 to 1, where the source was found at all. */
  found: number;
}

/** Places on the receiver that are measured at the most. */
const PLACES = 40_000;
/** How far the source is looked for, as a share of the receiver's diagonal. */
const SEARCH = 0.15;
/** Room beyond the measured distances. */
const MARGIN = 1.2;
/** Share of the distances the reach must cover; the rest are rays that went past an edge. */
const COVERED = 0.998;

/**
 * Measures how far rays must reach so that the receiver finds the source: at places spread over the receiver
 * it looks outwards for the surface it may lie beneath, else inwards for the one it lies above.
 * @returns reach in mesh units; with nothing found, 1 % of the receiver's diagonal and `found` 0
 */
export function suggestReach(receiver: Mesh, scene: Scene, tracer: Tracer): SuggestedReach {
  const { positions, indices } = receiver;
  const directions = smoothNormals(positions, indices);
  const size = diagonal(boundsOf(positions));
  const search = size * SEARCH;
  const triangles = indices.length / 3;
  const perTriangle = Math.max(1, Math.min(16, Math.floor(PLACES / triangles)));
  const stride = Math.max(1, Math.ceil(triangles / PLACES));

  const places = Math.ceil(triangles / stride) * perTriangle;
  const outward = rayBatch(places);
  const inward = rayBatch(places);
  let count = 0;
  for (let t = 0; t < triangles; t += stride) {
    for (let p = 0; p < perTriangle; p++) {
      const [wa, wb, wc] = spread(p, t);
      const d = [0, 0, 0];
      for (let k = 0; k < 3; k++) {
        const mix = (attribute: Float32Array): number =>
          attribute[indices[t * 3]! * 3 + k]! * wa +
          attribute[indices[t * 3 + 1]! * 3 + k]! * wb +
          attribute[indices[t * 3 + 2]! * 3 + k]! * wc;
        d[k] = mix(directions);
        inward.origins[count * 3 + k] = mix(positions);
      }
      const length = Math.hypot(d[0]!, d[1]!, d[2]!) || 1;
      for (let k = 0; k < 3; k++) {
        const direction = d[k]! / length;
        inward.directions[count * 3 + k] = -direction;
        outward.directions[count * 3 + k] = direction;
        outward.origins[count * 3 + k] = inward.origins[count * 3 + k]!;
      }
      inward.lengths[count] = search;
      outward.lengths[count] = search;
      count++;
    }
  }
  inward.count = count;
  outward.count = count;
  const below = hitBatch(count);
  tracer.closestHits(inward, below, 'ignore');
  const above = leavingDistances(outward, scene, tracer, size * 1e-6);

  const out: number[] = [];
  const inside: number[] = [];
  for (let i = 0; i < count; i++) {
    if (above[i]! >= 0) out.push(above[i]!);
    else if (below.triangles[i]! >= 0) inside.push(below.distances[i]!);
  }
  const least = size * 0.0005;
  const found = count > 0 ? (out.length + inside.length) / count : 0;
  if (found === 0) return { out: tidy(size * 0.01), in: tidy(size * 0.01), found };
  return {
    out: tidy(Math.max(least, quantile(out, COVERED) * MARGIN)),
    in: tidy(Math.max(least, quantile(inside, COVERED) * MARGIN)),
    found,
  };
}

/**
 * How far each ray travels inside the source before it leaves it for good. Raised detail often stands in the
 * body it decorates, so a ray that leaves one solid may still be inside the next; it goes on until it meets a
 * surface from outside, or nothing.
 * @returns mesh units for each ray; −1 where the ray starts outside
 */
function leavingDistances(rays: RayBatch, scene: Scene, tracer: Tracer, step: number): Float64Array {
  const hits = hitBatch(rays.count);
  const leaving = new Float64Array(rays.count).fill(-1);
  const travelled = new Float64Array(rays.count);
  for (let solid = 0; solid < 4; solid++) {
    tracer.closestHits(rays, hits, 'accept');
    for (let i = 0; i < rays.count; i++) {
      const [dx, dy, dz] = [rays.directions[i * 3]!, rays.directions[i * 3 + 1]!, rays.directions[i * 3 + 2]!];
      const triangle = hits.triangles[i]!;
      if (triangle < 0 || !facesAlong(scene, triangle, dx, dy, dz)) {
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

function quantile(values: number[], share: number): number {
  if (values.length === 0) return 0;
  values.sort((a, b) => a - b);
  return values[Math.min(values.length - 1, Math.ceil(values.length * share) - 1)]!;
}

/** Rounds up to two digits, so that a suggestion reads well and never falls short. */
function tidy(value: number): number {
  const step = 10 ** (Math.floor(Math.log10(value)) - 1);
  return Number((Math.ceil(value / step) * step).toPrecision(2));
}
