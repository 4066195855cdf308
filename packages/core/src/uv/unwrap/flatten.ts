import { orthonormalBasis } from '../../math/orthonormalBasis.ts';
import { conjugateGradients, dotProduct } from '../../math/conjugateGradients.ts';
import { weldPositions } from '../../mesh/weld.ts';

/** A mesh whose clusters lie flat, each at its own size and one over the other. */
export interface Flattened {
  /** The vertex that each of the flat ones is a copy of. */
  sources: Uint32Array;
  indices: Uint32Array;
  /** u, v for each of the flat vertices, in mesh units. */
  flat: Float32Array;
}

/** Rounds of finding rotations and places in turn, and steps of each search for places. */
const ROUNDS = 10;
const STEPS = 24;
/** Bounds of an edge's weight. */
const LEAST = 0.05;
const MOST = 100;

/**
 * Lays clusters flat as rigidly as possible: first seen from their mean direction, then by the local/global method of
 * Liu, Zhang, Xu, Gotsman and Gortler ("A Local/Global Approach to Mesh Parameterization", 2008). Where that would fold
 * a cluster over, it stays as first seen, which folds nothing as long as all faces look that way.
 * @param clusterOf of each triangle; the faces of one look about the same way
 */
export function flattenClusters(positions: Float32Array, indices: Uint32Array, clusterOf: Uint32Array): Flattened {
  const welded = weldPositions(positions);
  const members = trianglesOf(clusterOf);
  const sources: number[] = [];
  const flat: number[] = [];
  const cut = new Uint32Array(indices.length);
  for (const triangles of members.values()) {
    const cluster = new Cluster(positions, indices, welded, triangles);
    cluster.relax();
    const numbers = new Map<number, number>();
    for (const t of triangles) {
      for (let c = 0; c < 3; c++) {
        const vertex = indices[t * 3 + c]!;
        let number = numbers.get(vertex);
        if (number === undefined) {
          number = sources.length;
          numbers.set(vertex, number);
          sources.push(vertex);
          flat.push(...cluster.placeOf(welded[vertex]!));
        }
        cut[t * 3 + c] = number;
      }
    }
  }
  return { sources: Uint32Array.from(sources), indices: cut, flat: Float32Array.from(flat) };
}

function trianglesOf(clusterOf: Uint32Array): Map<number, number[]> {
  const members = new Map<number, number[]>();
  for (let t = 0; t < clusterOf.length; t++) {
    const own = members.get(clusterOf[t]!);
    if (own) own.push(t);
    else members.set(clusterOf[t]!, [t]);
  }
  return members;
}

class Cluster {
  private readonly numbers = new Map<number, number>();
  /** Local numbers of each triangle's corners. */
  private readonly corners: Uint32Array;
  /** Each triangle in a plane of its own: x of its second corner, and x, y of its third. */
  private readonly shapes: Float64Array;
  /** Cotangents of the angles opposite to each triangle's edges a–b, b–c, c–a. */
  private readonly weights: Float64Array;
  private places: Float64Array;

  constructor(positions: Float32Array, indices: Uint32Array, welded: Uint32Array, triangles: readonly number[]) {
    this.corners = new Uint32Array(triangles.length * 3);
    this.shapes = new Float64Array(triangles.length * 3);
    this.weights = new Float64Array(triangles.length * 3);
    const mean = [0, 0, 0];
    triangles.forEach((t, i) => {
      const at = [0, 1, 2].map((c) => welded[indices[t * 3 + c]!]! * 3) as [number, number, number];
      at.forEach((place, c) => {
        const vertex = place / 3;
        const number = this.numbers.get(vertex) ?? this.numbers.size;
        this.numbers.set(vertex, number);
        this.corners[i * 3 + c] = number;
      });
      const [u, v] = [at[1], at[2]].map((p) => [0, 1, 2].map((k) => positions[p + k]! - positions[at[0] + k]!)) as [
        [number, number, number],
        [number, number, number],
      ];
      const normal = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]] as const;
      for (let k = 0; k < 3; k++) mean[k]! += normal[k]!;
      const area = Math.hypot(...normal);
      const length = Math.hypot(...u);
      const along = length > 0 ? (u[0] * v[0] + u[1] * v[1] + u[2] * v[2]) / length : 0;
      const height = length > 0 ? area / length : 0;
      this.shapes.set([length, along, height], i * 3);
      // Held above zero, the system has one solution; what can be laid flat without stretch is one for any weights.
      const cotangent = (dot: number): number => Math.max(LEAST, Math.min(MOST, area > 0 ? dot / area : LEAST));
      const oppositeAB = along * (along - length) + height * height;
      const oppositeBC = length * along;
      const oppositeCA = length * (length - along);
      this.weights.set([cotangent(oppositeAB), cotangent(oppositeBC), cotangent(oppositeCA)], i * 3);
    });
    this.places = this.seenFrom(positions, mean as [number, number, number]);
  }

  /** All vertices as they are seen from a direction. */
  private seenFrom(positions: Float32Array, [x, y, z]: [number, number, number]): Float64Array {
    const length = Math.hypot(x, y, z) || 1;
    const [nx, ny, nz] = [x / length, y / length, z / length];
    const basis = new Float64Array(6);
    orthonormalBasis(nx, ny, nz, basis);
    const right = basis.subarray(0, 3);
    const up = basis.subarray(3);
    const places = new Float64Array(this.numbers.size * 2);
    for (const [vertex, number] of this.numbers) {
      for (let k = 0; k < 3; k++) {
        places[number * 2]! += positions[vertex * 3 + k]! * right[k]!;
        places[number * 2 + 1]! += positions[vertex * 3 + k]! * up[k]!;
      }
    }
    return places;
  }

  placeOf(vertex: number): [number, number] {
    const number = this.numbers.get(vertex)!;
    return [this.places[number * 2]!, this.places[number * 2 + 1]!];
  }

  /** Relaxes the cluster; not where that would turn triangles over that were not. */
  relax(): void {
    const before = this.places;
    const foldedBefore = this.folded();
    const system = new Laplacian(this.corners, this.weights, this.numbers.size);
    this.places = before.slice();
    for (let round = 0; round < ROUNDS; round++) system.solve(this.pull(), this.places, STEPS);
    if (this.folded() > foldedBefore || !this.places.every(Number.isFinite)) this.places = before;
  }

  private folded(): number {
    const { corners, places } = this;
    let count = 0;
    for (let i = 0; i < corners.length; i += 3) {
      const [a, b, c] = [corners[i]! * 2, corners[i + 1]! * 2, corners[i + 2]! * 2];
      const area =
        (places[b]! - places[a]!) * (places[c + 1]! - places[a + 1]!) -
        (places[c]! - places[a]!) * (places[b + 1]! - places[a + 1]!);
      if (area < 0) count++;
    }
    return count;
  }

  /** Where each vertex is pulled by its triangles, each turned as it lies best. */
  private pull(): Float64Array {
    const { corners, shapes, weights, places } = this;
    const pull = new Float64Array(places.length);
    for (let i = 0; i < corners.length; i += 3) {
      const [a, b, c] = [corners[i]! * 2, corners[i + 1]! * 2, corners[i + 2]! * 2];
      // Edges as they are in the triangle's own plane: a–b, b–c, c–a.
      const length = shapes[i]!;
      const along = shapes[i + 1]!;
      const height = shapes[i + 2]!;
      const edges = [length, 0, along - length, height, -along, -height];
      const ends = [a, b, c, a];
      let [cos, sin] = [0, 0];
      for (let e = 0; e < 3; e++) {
        const w = weights[i + e]!;
        const [x, y] = [edges[e * 2]!, edges[e * 2 + 1]!];
        const dx = places[ends[e + 1]!]! - places[ends[e]!]!;
        const dy = places[ends[e + 1]! + 1]! - places[ends[e]! + 1]!;
        cos += w * (dx * x + dy * y);
        sin += w * (dy * x - dx * y);
      }
      const size = Math.hypot(cos, sin);
      if (size === 0) continue;
      cos /= size;
      sin /= size;
      for (let e = 0; e < 3; e++) {
        const w = weights[i + e]!;
        const x = w * (cos * edges[e * 2]! - sin * edges[e * 2 + 1]!);
        const y = w * (sin * edges[e * 2]! + cos * edges[e * 2 + 1]!);
        const [from, to] = [ends[e]!, ends[e + 1]!];
        pull[to]! += x;
        pull[to + 1]! += y;
        pull[from]! -= x;
        pull[from + 1]! -= y;
      }
    }
    return pull;
  }
}

/** The cotangent Laplacian of a cluster, solved by conjugate gradients. */
class Laplacian {
  private readonly corners: Uint32Array;
  private readonly weights: Float64Array;
  private readonly diagonal: Float64Array;

  constructor(corners: Uint32Array, weights: Float64Array, vertices: number) {
    this.corners = corners;
    this.weights = weights;
    this.diagonal = new Float64Array(vertices * 2);
    for (let i = 0; i < corners.length; i++) {
      for (const at of [corners[i]!, corners[i % 3 === 2 ? i - 2 : i + 1]!]) {
        this.diagonal[at * 2]! += weights[i]!;
        this.diagonal[at * 2 + 1]! += weights[i]!;
      }
    }
  }

  private times(values: Float64Array, out: Float64Array): void {
    const { corners, weights } = this;
    out.fill(0);
    for (let i = 0; i < corners.length; i++) {
      const a = corners[i]! * 2;
      const b = corners[i % 3 === 2 ? i - 2 : i + 1]! * 2;
      const w = weights[i]!;
      const x = w * (values[a]! - values[b]!);
      const y = w * (values[a + 1]! - values[b + 1]!);
      out[a]! += x;
      out[a + 1]! += y;
      out[b]! -= x;
      out[b + 1]! -= y;
    }
  }

  /** Moves places towards where the Laplacian of them is what is wanted. The whole may lie anywhere. */
  solve(wanted: Float64Array, places: Float64Array, steps: number): void {
    const product = new Float64Array(places.length);
    this.times(places, product);
    const rest = wanted.map((value, i) => value - product[i]!);
    const ease = (values: Float64Array): Float64Array =>
      values.map((value, i) => (this.diagonal[i]! > 1e-12 ? value / this.diagonal[i]! : 0));
    const multiply = (values: Float64Array, out: Float64Array): void => this.times(values, out);
    // Once what is left is but rounding, further steps would go astray.
    const least = dotProduct(wanted, ease(wanted)) * 1e-20;
    conjugateGradients({ multiply, ease }, rest, places, { steps, share: 1e-10, least });
  }
}
