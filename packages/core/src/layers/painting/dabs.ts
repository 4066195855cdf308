import { mixed } from '../../math/lowDiscrepancy.ts';
import { POINT, type Stroke } from './stroke.ts';

/** The dabs of a stroke, one after the other. */
export interface Dabs {
  count: number;
  /** x, y, z of each, in millimetres. */
  centers: Float32Array;
  /** Unit normals of the surface there. */
  normals: Float32Array;
  radii: Float32Array;
  /** How much each adds, 0 to 1. */
  flows: Float32Array;
  /** Boxes about dabs that follow each other, so many at a time: x, y, z of the lower and the upper corner. */
  boxes: Float32Array;
}

/** Dabs that share a box. */
export const CHUNK = 64;

/** The most dabs of one stroke; more points are drawn with wider steps. */
const MOST_DABS = 200_000;

/**
 * Sets down dabs along a stroke: evenly by the length of its line in space, between the points that the pen was told at.
 * A stroke of one point is one dab.
 */
export function dabsOf({ points, brush, seed }: Stroke): Dabs {
  const { radius, spacing, scatter, flow, pressure } = brush;
  const count = points.length / POINT;
  let length = 0;
  for (let i = 1; i < count; i++) length += distance(points, i - 1, i);
  const step = Math.max(radius * Math.max(0.02, spacing), length / MOST_DABS, 1e-6);
  const most = Math.floor(length / step) + 1;
  const dabs: Dabs = {
    count: 0,
    centers: new Float32Array(most * 3),
    normals: new Float32Array(most * 3),
    radii: new Float32Array(most),
    flows: new Float32Array(most),
    boxes: new Float32Array(0),
  };
  const put = (from: number, to: number, share: number): void => {
    if (dabs.count >= most) return;
    const at = dabs.count++;
    const between = (k: number): number =>
      points[from * POINT + k]! + (points[to * POINT + k]! - points[from * POINT + k]!) * share;
    const normal = unit3(between(3), between(4), between(5));
    const pressed = between(6);
    dabs.radii[at] = radius * (pressure.radius ? Math.max(0.02, pressed) : 1);
    dabs.flows[at] = flow * (pressure.strength ? pressed : 1);
    const [a, b] = strayed(normal, scatter * radius, mixed(at, seed));
    for (let k = 0; k < 3; k++) {
      dabs.centers[at * 3 + k] = between(k) + a[k]! + b[k]!;
      dabs.normals[at * 3 + k] = normal[k]!;
    }
  };
  if (count > 0) put(0, 0, 0);
  let left = step;
  for (let i = 1; i < count; i++) {
    const long = distance(points, i - 1, i);
    while (left <= long) {
      put(i - 1, i, left / long);
      left += step;
    }
    left -= long;
  }
  return { ...dabs, boxes: boxesOf(dabs) };
}

function distance(points: Float32Array, a: number, b: number): number {
  const [p, q] = [a * POINT, b * POINT];
  return Math.hypot(points[q]! - points[p]!, points[q + 1]! - points[p + 1]!, points[q + 2]! - points[p + 2]!);
}

function unit3(x: number, y: number, z: number): [number, number, number] {
  const length = Math.hypot(x, y, z) || 1;
  return [x / length, y / length, z / length];
}

/** Two steps along the surface, which add up to a random place within a circle. */
function strayed(normal: readonly number[], reach: number, random: number): [number[], number[]] {
  if (reach === 0) return [ZERO, ZERO];
  const turn = ((random & 0xffff) / 65536) * 2 * Math.PI;
  const far = Math.sqrt((random >>> 16) / 65536) * reach;
  const [x, y, z] = normal as [number, number, number];
  // An orthonormal basis without a branch (Duff et al., "Building an Orthonormal Basis, Revisited", 2017).
  const sign = z < 0 ? -1 : 1;
  const p = -1 / (sign + z);
  const q = x * y * p;
  const u = [1 + sign * x * x * p, sign * q, -sign * x];
  const v = [q, sign + y * y * p, -y];
  return [u.map((value) => value * far * Math.cos(turn)), v.map((value) => value * far * Math.sin(turn))];
}

const ZERO = [0, 0, 0];

function boxesOf({ count, centers, radii }: Omit<Dabs, 'boxes'>): Float32Array {
  const chunks = Math.ceil(count / CHUNK);
  const boxes = new Float32Array(chunks * 6);
  for (let c = 0; c < chunks; c++) {
    boxes.fill(Infinity, c * 6, c * 6 + 3);
    boxes.fill(-Infinity, c * 6 + 3, c * 6 + 6);
    for (let i = c * CHUNK; i < Math.min(count, (c + 1) * CHUNK); i++) {
      for (let k = 0; k < 3; k++) {
        boxes[c * 6 + k] = Math.min(boxes[c * 6 + k]!, centers[i * 3 + k]! - radii[i]!);
        boxes[c * 6 + 3 + k] = Math.max(boxes[c * 6 + 3 + k]!, centers[i * 3 + k]! + radii[i]!);
      }
    }
  }
  return boxes;
}
