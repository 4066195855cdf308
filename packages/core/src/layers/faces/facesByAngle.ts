import { halfEdges } from '../surface/halfEdges.ts';
import type { LayeredSurface } from '../surface/layeredSurface.ts';

/**
 * Faces that hang together with some over edges that are not too steep.
 * @param seeds triangles to begin with
 * @param degrees the steepest edge that is gone over: the angle between the normals of its two faces
 * @returns 1 for each triangle that belongs to them
 */
export function facesByAngle(
  seeds: Iterable<number>,
  degrees: number,
  surface: Pick<LayeredSurface, 'welded' | 'receiver'>,
): Uint8Array {
  const { positions, indices } = surface.receiver;
  const found = new Uint8Array(indices.length / 3);
  const { twins } = halfEdges(surface);
  const least = Math.cos((degrees * Math.PI) / 180);
  const normal = (t: number): [number, number, number] =>
    faceNormal(positions, indices[t * 3]! * 3, indices[t * 3 + 1]! * 3, indices[t * 3 + 2]! * 3);
  const waiting = [...seeds];
  for (const t of waiting) found[t] = 1;
  for (let t = waiting.pop(); t !== undefined; t = waiting.pop()) {
    const own = normal(t);
    for (let side = 0; side < 3; side++) {
      const twin = twins[t * 3 + side]!;
      if (twin < 0) continue;
      const other = Math.floor(twin / 3);
      if (found[other]) continue;
      const n = normal(other);
      if (own[0] * n[0] + own[1] * n[1] + own[2] * n[2] < least) continue;
      found[other] = 1;
      waiting.push(other);
    }
  }
  return found;
}

/** Faces with all that share a corner with them, over cuts of the layout too. @param faces 1 for each that is picked */
export function grownFaces(faces: Uint8Array, surface: Pick<LayeredSurface, 'welded' | 'receiver'>): Uint8Array {
  const { corners } = halfEdges(surface);
  const touched = new Set<number>();
  for (let e = 0; e < corners.length; e++) if (faces[Math.floor(e / 3)]) touched.add(corners[e]!);
  return faces.map((own, t) => (own || [0, 1, 2].some((side) => touched.has(corners[t * 3 + side]!)) ? 1 : 0));
}

/** Picked faces as ranges of their numbers, the last not included. */
export function rangesOfFaces(faces: Uint8Array): [from: number, to: number][] {
  const ranges: [number, number][] = [];
  for (let t = 0; t < faces.length; t++) {
    if (!faces[t]) continue;
    const last = ranges.at(-1);
    if (last?.[1] === t) last[1] = t + 1;
    else ranges.push([t, t + 1]);
  }
  return ranges;
}

/** The unit normal of a face, by where the numbers of its corners begin. */
export function faceNormal(p: Float32Array, i: number, j: number, k: number): [number, number, number] {
  const [ux, uy, uz] = [p[j]! - p[i]!, p[j + 1]! - p[i + 1]!, p[j + 2]! - p[i + 2]!];
  const [vx, vy, vz] = [p[k]! - p[i]!, p[k + 1]! - p[i + 1]!, p[k + 2]! - p[i + 2]!];
  const n: [number, number, number] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
  const length = Math.hypot(...n) || 1;
  return [n[0] / length, n[1] / length, n[2] / length];
}
