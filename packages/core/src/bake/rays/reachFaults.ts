import { facesAlong } from '../../mesh/triangleFace.ts';
import { GroupTracer } from '../../trace/groupTracer.ts';
import { hitBatch, rayBatch, type Tracer } from '../../trace/rays.ts';
import type { Scene } from '../../trace/scene.ts';
import type { Receiver } from '../receiver.ts';
import { placeRay, placesOfTriangles } from './gaps.ts';

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
  const { indices, reachOut, reachIn, partOf, parts } = receiver;
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
    const [a, b, c] = [indices[t * 3]!, indices[t * 3 + 1]!, indices[t * 3 + 2]!];
    for (let nth = 0; nth < count; nth++) {
      const r = rays.count++;
      const [wa, wb, wc] = placeRay(receiver, t, nth, rays, r);
      const out = reachOut[a]! * wa + reachOut[b]! * wb + reachOut[c]! * wc;
      const into = reachIn[a]! * wa + reachIn[b]! * wb + reachIn[c]! * wc;
      // From the reach above the place, inwards.
      for (let k = r * 3; k < r * 3 + 3; k++) {
        rays.origins[k]! += rays.directions[k]! * out;
        rays.directions[k] = -rays.directions[k]!;
      }
      rays.lengths[r] = out + into;
      groups[r] = parts[partOf[t]!]!.group;
      if (rays.count === BATCH) cast();
    }
  });
  if (rays.count > 0) cast();
  return places > 0 ? faults / places : 0;
}
