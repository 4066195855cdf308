import { triangleDistance } from '../../trace/nearestPlace.ts';
import { faceNormal, facesByAngle } from '../faces/facesByAngle.ts';
import type { LayeredSurface } from '../surface/layeredSurface.ts';
import { POINT, type Stroke } from './stroke.ts';

/**
 * The triangles that a filling stroke fills: those nearest to its points, and what belongs to them. They are found by places
 * in space, so that they are the same after a new layout, and on a mesh whose triangles were divided otherwise.
 * @returns 1 for each triangle that is filled
 */
export function filledTriangles({ brush, points }: Stroke, surface: LayeredSurface): Uint8Array {
  const { islands, parts, slotOf, objectOf } = surface;
  const filled = new Uint8Array(islands.length);
  const seeds = new Set<number>();
  for (let at = 0; at < points.length; at += POINT) seeds.add(nearestTriangle(points, at, surface));
  const all = (of: ArrayLike<number>): void => {
    const wanted = new Set([...seeds].map((t) => of[t]!));
    for (let t = 0; t < filled.length; t++) if (wanted.has(of[t]!)) filled[t] = 1;
  };
  switch (brush.fill) {
    case 'face':
      for (const t of seeds) filled[t] = 1;
      break;
    case 'angle':
      return facesByAngle(seeds, brush.fillAngle, surface);
    case 'part':
      all(parts);
      break;
    case 'island':
      all(islands);
      break;
    case 'slot':
      all(slotOf);
      break;
    case 'object':
      all(objectOf);
  }
  return filled;
}

/** The triangle that a place on the surface lies on: the nearest, of those that face the same way. */
function nearestTriangle(points: Float32Array, at: number, { receiver }: LayeredSurface): number {
  const { positions: p, indices } = receiver;
  const [x, y, z] = [points[at]!, points[at + 1]!, points[at + 2]!];
  const up = [points[at + 3]!, points[at + 4]!, points[at + 5]!] as const;
  const corners = new Float32Array(9);
  const weights = new Float64Array(3);
  let nearest = 0;
  let least = Infinity;
  for (let t = 0; t < indices.length / 3; t++) {
    const [i, j, k] = [indices[t * 3]! * 3, indices[t * 3 + 1]! * 3, indices[t * 3 + 2]! * 3];
    for (let c = 0; c < 3; c++) {
      corners[c] = p[i + c]!;
      corners[3 + c] = p[j + c]!;
      corners[6 + c] = p[k + c]!;
    }
    const distance = triangleDistance(corners, 0, x, y, z, weights);
    if (distance >= least) continue;
    const n = faceNormal(p, i, j, k);
    if (n[0] * up[0] + n[1] * up[1] + n[2] * up[2] < -0.2) continue;
    least = distance;
    nearest = t;
  }
  return nearest;
}
