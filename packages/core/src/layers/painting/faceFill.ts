import { faceNormal, facesByAngle } from '../facesByAngle.ts';
import type { LayeredSurface } from '../layeredSurface.ts';
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
  let nearest = 0;
  let least = Infinity;
  for (let t = 0; t < indices.length / 3; t++) {
    const [i, j, k] = [indices[t * 3]! * 3, indices[t * 3 + 1]! * 3, indices[t * 3 + 2]! * 3];
    const distance = squaredDistance(x, y, z, p, i, j, k);
    if (distance >= least) continue;
    const n = faceNormal(p, i, j, k);
    if (n[0] * up[0] + n[1] * up[1] + n[2] * up[2] < -0.2) continue;
    least = distance;
    nearest = t;
  }
  return nearest;
}

/** Of a point from a triangle (Ericson, "Real-Time Collision Detection", 2005, 5.1.5). */
function squaredDistance(x: number, y: number, z: number, p: Float32Array, i: number, j: number, k: number): number {
  const [ax, ay, az] = [p[j]! - p[i]!, p[j + 1]! - p[i + 1]!, p[j + 2]! - p[i + 2]!];
  const [bx, by, bz] = [p[k]! - p[i]!, p[k + 1]! - p[i + 1]!, p[k + 2]! - p[i + 2]!];
  const [px, py, pz] = [x - p[i]!, y - p[i + 1]!, z - p[i + 2]!];
  const d1 = ax * px + ay * py + az * pz;
  const d2 = bx * px + by * py + bz * pz;
  const aa = ax * ax + ay * ay + az * az;
  const bb = bx * bx + by * by + bz * bz;
  const ab = ax * bx + ay * by + az * bz;
  const squared = (u: number, v: number): number => {
    const [dx, dy, dz] = [px - ax * u - bx * v, py - ay * u - by * v, pz - az * u - bz * v];
    return dx * dx + dy * dy + dz * dz;
  };
  const det = aa * bb - ab * ab;
  const u = (bb * d1 - ab * d2) / (det || 1e-30);
  const v = (aa * d2 - ab * d1) / (det || 1e-30);
  if (u >= 0 && v >= 0 && u + v <= 1) return squared(u, v);
  const within = (value: number): number => Math.max(0, Math.min(1, value));
  const onA = within(d1 / (aa || 1e-30));
  const onB = within(d2 / (bb || 1e-30));
  const cc = aa + bb - 2 * ab;
  const onC = within((aa - ab - d1 + d2) / (cc || 1e-30));
  return Math.min(squared(onA, 0), squared(0, onB), squared(1 - onC, onC));
}
