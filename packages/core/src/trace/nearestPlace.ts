import type { Bvh } from './bvh.ts';
import type { HitBatch } from './rays.ts';

const STACK_DEPTH = 512;

/** Finds the place of a scene nearest to a point, by walking its tree from the nearer box to the farther. */
export class NearestPlace {
  private readonly bvh: Bvh;
  /** The first triangle of the scene that the tree holds. */
  private readonly from: number;
  private readonly stack = new Int32Array(STACK_DEPTH);
  private readonly stackFar = new Float64Array(STACK_DEPTH);
  private readonly found = new Float64Array(3);

  constructor(bvh: Bvh, from = 0) {
    this.bvh = bvh;
    this.from = from;
  }

  /** @param reach how far it may lie away; what lies farther is a miss. The distance written is never negative. */
  find(x: number, y: number, z: number, reach: number, hits: HitBatch, at: number): void {
    const { bounds, first, counts, order, corners } = this.bvh;
    const { stack, stackFar, found } = this;
    let nearest = reach * reach;
    let triangle = -1;
    let top = 0;
    stack[top] = 0;
    stackFar[top++] = boxDistance(bounds, 0, x, y, z);
    while (top > 0) {
      top--;
      if (stackFar[top]! > nearest) continue;
      const node = stack[top]!;
      const count = counts[node]!;
      if (count === 0) {
        const left = first[node]!;
        const farLeft = boxDistance(bounds, left * 6, x, y, z);
        const farRight = boxDistance(bounds, left * 6 + 6, x, y, z);
        const nearer = farLeft <= farRight ? left : left + 1;
        stack[top] = nearer === left ? left + 1 : left;
        stackFar[top++] = Math.max(farLeft, farRight);
        stack[top] = nearer;
        stackFar[top++] = Math.min(farLeft, farRight);
        continue;
      }
      for (let i = first[node]!; i < first[node]! + count; i++) {
        const distance = triangleDistance(corners, i * 9, x, y, z, found);
        const number = order[i]!;
        if (distance > nearest || (distance === nearest && triangle >= 0 && number > triangle)) continue;
        nearest = distance;
        triangle = number;
        hits.weights[at * 2] = found[1]!;
        hits.weights[at * 2 + 1] = found[2]!;
      }
    }
    hits.triangles[at] = triangle < 0 ? -1 : triangle + this.from;
    hits.distances[at] = Math.sqrt(nearest);
  }
}

/** Squared distance of a point from a box. */
function boxDistance(bounds: Float32Array, at: number, x: number, y: number, z: number): number {
  const dx = Math.max(bounds[at]! - x, 0, x - bounds[at + 3]!);
  const dy = Math.max(bounds[at + 1]! - y, 0, y - bounds[at + 4]!);
  const dz = Math.max(bounds[at + 2]! - z, 0, z - bounds[at + 5]!);
  return dx * dx + dy * dy + dz * dz;
}

/**
 * Squared distance of a point from a triangle, by the region of its plane that the point lies in (Ericson,
 * "Real-Time Collision Detection", 2005, section 5.1.5).
 * @param corners nine numbers of each triangle @param at where those of this one begin
 * @param out told the barycentric weights of the nearest place
 */
export function triangleDistance(
  corners: Float32Array,
  at: number,
  x: number,
  y: number,
  z: number,
  out: Float64Array,
): number {
  const ax = corners[at]!;
  const ay = corners[at + 1]!;
  const az = corners[at + 2]!;
  const ux = corners[at + 3]! - ax;
  const uy = corners[at + 4]! - ay;
  const uz = corners[at + 5]! - az;
  const vx = corners[at + 6]! - ax;
  const vy = corners[at + 7]! - ay;
  const vz = corners[at + 8]! - az;
  const px = x - ax;
  const py = y - ay;
  const pz = z - az;
  const d1 = ux * px + uy * py + uz * pz;
  const d2 = vx * px + vy * py + vz * pz;
  const uu = ux * ux + uy * uy + uz * uz;
  const uv = ux * vx + uy * vy + uz * vz;
  const vv = vx * vx + vy * vy + vz * vz;
  const d3 = d1 - uu;
  const d4 = d2 - uv;
  const d5 = d1 - uv;
  const d6 = d2 - vv;
  const vc = d1 * d4 - d3 * d2;
  const vb = d5 * d2 - d1 * d6;
  const va = d3 * d6 - d5 * d4;
  let b = 0;
  let c = 0;
  if (d1 <= 0 && d2 <= 0) {
    // The first corner.
  } else if (d3 >= 0 && d4 <= d3) b = 1;
  else if (d6 >= 0 && d5 <= d6) c = 1;
  else if (vc <= 0 && d1 >= 0 && d3 <= 0) b = d1 / (d1 - d3);
  else if (vb <= 0 && d2 >= 0 && d6 <= 0) c = d2 / (d2 - d6);
  else if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) {
    c = (d4 - d3) / (d4 - d3 + (d5 - d6));
    b = 1 - c;
  } else {
    const scale = 1 / (va + vb + vc);
    b = vb * scale;
    c = vc * scale;
  }
  out[0] = 1 - b - c;
  out[1] = b;
  out[2] = c;
  const dx = px - ux * b - vx * c;
  const dy = py - uy * b - vy * c;
  const dz = pz - uz * b - vz * c;
  return dx * dx + dy * dy + dz * dz;
}
