import { facesAlong } from '../../mesh/triangleFace.ts';
import { GroupTracer } from '../../trace/groupTracer.ts';
import { hitBatch, rayBatch, type Tracer } from '../../trace/rays.ts';
import type { Scene } from '../../trace/scene.ts';
import type { Receiver } from '../receiver.ts';
import { placesOfTriangles, spread } from './gaps.ts';

/** Places on the receiver that are looked at. */
const PLACES = 40_000;
/** Rays cast at once. */
const BATCH = 16_384;

/**
 * How well the reach of a receiver fits its source, so that two of them can be compared.
 * @param receiver with the reach of each vertex set
 * @returns share of places, 0 to 1, whose ray begins inside the source, and so misses a layer, or meets nothing
 */
export function reachFaults(receiver: Receiver, scene: Scene, tracers: readonly Tracer[]): number {
  const { positions, directions, indices, reachOut, reachIn, partOf, parts } = receiver;
  const counts = placesOfTriangles(receiver, PLACES);
  const [rays, hits, groups] = [rayBatch(BATCH), hitBatch(BATCH), new Uint16Array(BATCH)];
  const tracer = new GroupTracer(tracers, BATCH);
  let [places, faults] = [0, 0];
  const cast = (): void => {
    tracer.closestHits(rays, groups, hits, 'accept');
    for (let r = 0; r < rays.count; r++) {
      const [x, y, z] = [rays.directions[r * 3]!, rays.directions[r * 3 + 1]!, rays.directions[r * 3 + 2]!];
      const triangle = hits.triangles[r]!;
      if (triangle < 0 || facesAlong(scene, triangle, x, y, z)) faults++;
    }
    places += rays.count;
    rays.count = 0;
  };
  counts.forEach((count, t) => {
    const corners = [indices[t * 3]!, indices[t * 3 + 1]!, indices[t * 3 + 2]!] as const;
    for (let nth = 0; nth < count; nth++) {
      const weights = spread(nth, t);
      const mixed = (values: Float32Array, width: number, k: number): number =>
        corners.reduce((sum, v, c) => sum + values[v * width + k]! * weights[c]!, 0);
      const length = Math.hypot(mixed(directions, 3, 0), mixed(directions, 3, 1), mixed(directions, 3, 2)) || 1;
      const [out, into] = [mixed(reachOut, 1, 0), mixed(reachIn, 1, 0)];
      const r = rays.count++;
      for (let k = 0; k < 3; k++) {
        const direction = mixed(directions, 3, k) / length;
        rays.origins[r * 3 + k] = mixed(positions, 3, k) + direction * out;
        rays.directions[r * 3 + k] = -direction;
      }
      rays.lengths[r] = out + into;
      groups[r] = parts[partOf[t]!]!.group;
      if (rays.count === BATCH) cast();
    }
  });
  if (rays.count > 0) cast();
  return places > 0 ? faults / places : 0;
}
