import { eachSharedEdge, edgeLength } from '../../mesh/edges.ts';
import { triangleFace } from '../../mesh/triangleFace.ts';

export interface ConeOptions {
  /** How far, in degrees, a face may lean away from the mean of its cluster. */
  angle: number;
  /** Edges that no cluster crosses; told the corner at which it begins on either side. */
  isCut: (here: number, there: number) => boolean;
}

/**
 * Divides a surface into clusters of faces that hang together and look about the same way, so that each can be laid flat
 * with little stretch. Clusters grow in rings from a first face, and slivers join the neighbour they share most with.
 * @returns the cluster of each triangle
 */
export function normalCones(positions: Float32Array, indices: Uint32Array, { angle, isCut }: ConeOptions): Uint32Array {
  const triangles = indices.length / 3;
  const faces = faceVectors(positions, indices);
  const { neighbours, lengths } = neighboursOf(positions, indices, isCut);
  const clusterOf = new Uint32Array(triangles).fill(NONE);
  const sums: number[] = [];
  const least = Math.cos((angle * Math.PI) / 180);
  const queue = new Uint32Array(triangles);
  const rejected: number[] = [];
  for (let next = 0; ;) {
    // A cluster begins where another ended, so that none is left between them.
    let seed = rejected.pop();
    while (seed !== undefined && clusterOf[seed] !== NONE) seed = rejected.pop();
    while (seed === undefined && next < triangles) seed = clusterOf[next] === NONE ? next : (next++, undefined);
    if (seed === undefined) break;
    const cluster = sums.length / 3;
    let [x, y, z] = [faces[seed * 3]!, faces[seed * 3 + 1]!, faces[seed * 3 + 2]!];
    clusterOf[seed] = cluster;
    let [head, tail] = [0, 1];
    queue[0] = seed;
    while (head < tail) {
      const t = queue[head++]!;
      for (let e = 0; e < 3; e++) {
        const other = neighbours[t * 3 + e]!;
        if (other === NONE || clusterOf[other] !== NONE) continue;
        const [nx, ny, nz] = [faces[other * 3]!, faces[other * 3 + 1]!, faces[other * 3 + 2]!];
        const along = nx * x + ny * y + nz * z;
        if (along < least * Math.sqrt((nx * nx + ny * ny + nz * nz) * (x * x + y * y + z * z))) {
          rejected.push(other);
          continue;
        }
        clusterOf[other] = cluster;
        [x, y, z] = [x + nx, y + ny, z + nz];
        queue[tail++] = other;
      }
    }
    sums.push(x, y, z);
  }
  joinSlivers(clusterOf, sums, faces, neighbours, lengths, angle);
  return clusterOf;
}

const NONE = 0xffffffff;
/** A cluster with less than this share of the surface is a sliver. */
const SLIVER = 0.002;
/** Slivers may lean away from those they join by so many times the angle. */
const LENIENT = 1.5;

/** Twice each face's area along its normal. */
function faceVectors(positions: Float32Array, indices: Uint32Array): Float64Array {
  const faces = new Float64Array(indices.length);
  const face = new Float64Array(9);
  for (let t = 0; t < indices.length / 3; t++) {
    triangleFace({ positions, indices }, t, face);
    faces.set(face.subarray(6), t * 3);
  }
  return faces;
}

function neighboursOf(positions: Float32Array, indices: Uint32Array, isCut: ConeOptions['isCut']) {
  const neighbours = new Uint32Array(indices.length).fill(NONE);
  const lengths = new Float32Array(indices.length);
  eachSharedEdge(positions, indices, (here, there) => {
    if (isCut(here, there)) return;
    neighbours[here] = Math.floor(there / 3);
    neighbours[there] = Math.floor(here / 3);
    const length = edgeLength(positions, indices[here]!, indices[there]!);
    lengths[here] = length;
    lengths[there] = length;
  });
  return { neighbours, lengths };
}

function joinSlivers(
  clusterOf: Uint32Array,
  sums: number[],
  faces: Float64Array,
  neighbours: Uint32Array,
  lengths: Float32Array,
  angle: number,
): void {
  const count = sums.length / 3;
  const areas = new Float64Array(count);
  const borders = Array.from({ length: count }, () => new Map<number, number>());
  for (let t = 0; t < clusterOf.length; t++) {
    const own = clusterOf[t]!;
    areas[own]! += Math.hypot(faces[t * 3]!, faces[t * 3 + 1]!, faces[t * 3 + 2]!);
    for (let e = 0; e < 3; e++) {
      const other = neighbours[t * 3 + e]!;
      if (other === NONE || clusterOf[other] === own) continue;
      const border = borders[own]!;
      border.set(clusterOf[other]!, (border.get(clusterOf[other]!) ?? 0) + lengths[t * 3 + e]!);
    }
  }
  const whole = areas.reduce((sum, area) => sum + area, 0);
  const least = Math.cos((Math.min(80, angle * LENIENT) * Math.PI) / 180);
  const joined = Uint32Array.from({ length: count }, (_, i) => i);
  const rootOf = (i: number): number => {
    while (joined[i] !== i) i = joined[i]!;
    return i;
  };
  const bySize = [...areas.keys()].sort((a, b) => areas[a]! - areas[b]!);
  for (const sliver of bySize) {
    if (rootOf(sliver) !== sliver || areas[sliver]! > whole * SLIVER) continue;
    const shared = new Map<number, number>();
    for (const [other, length] of borders[sliver]!) {
      const root = rootOf(other);
      if (root !== sliver) shared.set(root, (shared.get(root) ?? 0) + length);
    }
    const vector = (i: number) => [sums[i * 3]!, sums[i * 3 + 1]!, sums[i * 3 + 2]!] as const;
    const [x, y, z] = vector(sliver);
    const best = [...shared]
      .filter(([other]) => {
        const [ox, oy, oz] = vector(other);
        return x * ox + y * oy + z * oz >= least * Math.hypot(x, y, z) * Math.hypot(ox, oy, oz);
      })
      .sort((a, b) => b[1] - a[1])[0]?.[0];
    if (best === undefined) continue;
    joined[sliver] = best;
    areas[best]! += areas[sliver]!;
    for (let k = 0; k < 3; k++) sums[best * 3 + k]! += sums[sliver * 3 + k]!;
    for (const [other, length] of borders[sliver]!)
      borders[best]!.set(other, (borders[best]!.get(other) ?? 0) + length);
  }
  for (let t = 0; t < clusterOf.length; t++) clusterOf[t] = rootOf(clusterOf[t]!);
}
