import { weldPositions } from '../../mesh/weld.ts';
import type { Tracer } from '../../trace/rays.ts';
import type { Scene } from '../../trace/scene.ts';
import { measureGaps } from './gaps.ts';
import { groupsOf, type Receiver } from '../receiver.ts';
import type { Reach } from '../settings.ts';
import { LEAST, MARGIN, reachOfGaps, type SuggestedReach } from './suggestReach.ts';

/** Places on the receiver that are measured for a fitted reach: enough to meet small raised detail. */
const PLACES = 400_000;

/** No vertex reaches less far than this share of the farthest: places between those measured may lie a little off. */
const FLOOR = 0.1;

/** Where the reach was changed by hand: within a distance of a place it grows by a factor, less towards the rim. */
export interface ReachTouch {
  at: readonly [number, number, number];
  radius: number;
  /** What the reach is multiplied by at the place itself. */
  out: number;
  in: number;
}

/** Gives all vertices of a receiver the same reach, or those of some parts one of their own. */
export function setReach(receiver: Receiver, reach: Reach, ofPart: Readonly<Record<string, Reach>> = {}): void {
  const { reachOut, reachIn, indices, partOf, parts } = receiver;
  reachOut.fill(reach.out);
  reachIn.fill(reach.in);
  for (let t = 0; t < partOf.length; t++) {
    const own = ofPart[parts[partOf[t]!]!.name];
    if (!own) continue;
    for (let c = 0; c < 3; c++) {
      reachOut[indices[t * 3 + c]!] = own.out;
      reachIn[indices[t * 3 + c]!] = own.in;
    }
  }
}

/**
 * Fits the reach to the source: each vertex reaches as far as the source was found to lie from the triangles around
 * it, and a little farther, so that nothing is missed and as little as possible behind it is caught. What lies much
 * farther than everything else (rays that went past an edge) is left out.
 */
export function fitReach(receiver: Receiver, scene: Scene, tracers: readonly Tracer[]): SuggestedReach {
  const { positions, indices, reachOut, reachIn } = receiver;
  const gaps = measureGaps({ ...receiver, groups: groupsOf(receiver) }, scene, tracers, PLACES);
  const most = reachOfGaps(gaps);
  const leastOut = Math.max(gaps.size * LEAST, most.out * FLOOR);
  const leastIn = Math.max(gaps.size * LEAST, most.in * FLOOR);
  const welded = weldPositions(positions);
  const out = new Float32Array(reachOut.length).fill(leastOut);
  const inside = new Float32Array(reachOut.length).fill(leastIn);
  for (let i = 0; i < gaps.triangles.length; i++) {
    for (let c = 0; c < 3; c++) {
      const vertex = welded[indices[gaps.triangles[i]! * 3 + c]!]!;
      if (gaps.above[i]! <= most.out) out[vertex] = Math.max(out[vertex]!, gaps.above[i]! * MARGIN);
      if (gaps.below[i]! <= most.in) inside[vertex] = Math.max(inside[vertex]!, gaps.below[i]! * MARGIN);
    }
  }
  for (let v = 0; v < reachOut.length; v++) {
    reachOut[v] = out[welded[v]!]!;
    reachIn[v] = inside[welded[v]!]!;
  }
  return most;
}

/** Changes the reach where it was touched by hand. */
export function touchReach(receiver: Receiver, touches: readonly ReachTouch[]): void {
  const { positions, reachOut, reachIn } = receiver;
  for (const { at, radius, out, in: inside } of touches) {
    for (let v = 0; v < reachOut.length; v++) {
      const distance = Math.hypot(
        positions[v * 3]! - at[0],
        positions[v * 3 + 1]! - at[1],
        positions[v * 3 + 2]! - at[2],
      );
      if (distance >= radius) continue;
      const share = 1 - (distance / radius) ** 2;
      reachOut[v]! *= 1 + (out - 1) * share * share;
      reachIn[v]! *= 1 + (inside - 1) * share * share;
    }
  }
}

/** The farthest reach of any vertex. */
export function farthestReach({ reachOut, reachIn, cage, positions }: Receiver): Reach {
  let out = 0;
  let inside = 0;
  for (let v = 0; v < reachOut.length; v++) {
    const start = cage
      ? Math.hypot(
          cage[v * 3]! - positions[v * 3]!,
          cage[v * 3 + 1]! - positions[v * 3 + 1]!,
          cage[v * 3 + 2]! - positions[v * 3 + 2]!,
        )
      : reachOut[v]!;
    if (start > out) out = start;
    if (reachIn[v]! > inside) inside = reachIn[v]!;
  }
  return { out, in: inside };
}
