import { wayAlong, type LayeredSurface } from '../../surface/layeredSurface.ts';

/**
 * A mesh whose long edges are halved again and again, each at the same place on both sides, so that distances can be told at
 * its vertices. Each triangle of the mesh is the root of a tree: a node that is split has two halves.
 */
export interface RefinedMesh {
  /** x, y, z of the vertices: those of the mesh, welded, and the middles of edges. */
  positions: Float32Array;
  /** Three vertices for each node. */
  corners: Uint32Array;
  /** The corner where the split edge begins, 0 to 2; 3 for a leaf. */
  split: Uint8Array;
  /** The first of the two halves of a node. */
  halves: Uint32Array;
  /** Of a tile that repeats: the shortest way between two places may go over its borders. */
  repeats: LayeredSurface['repeats'];
}

/** The most nodes; edges beyond stay as they are. */
const MOST_NODES = 6_000_000;

/**
 * Halves all edges that are longer than a length.
 * @example refinedMesh(surface, 4)
 */
export function refinedMesh(
  { receiver: { positions, indices }, welded, repeats }: Pick<LayeredSurface, 'receiver' | 'welded' | 'repeats'>,
  longest: number,
): RefinedMesh {
  const places: number[] = Array.from(positions);
  const corners: number[] = Array.from(indices, (vertex) => welded[vertex]!);
  const split: number[] = new Array<number>(indices.length / 3).fill(3);
  const halves: number[] = new Array<number>(indices.length / 3).fill(0);
  const middles = new Map<number, number>();
  const limit = longest * longest;
  const way = (a: number, b: number, axis: number): number =>
    wayAlong(axis, places[a * 3 + axis]!, places[b * 3 + axis]!, repeats);
  const squared = (a: number, b: number): number => way(a, b, 0) ** 2 + way(a, b, 1) ** 2 + way(a, b, 2) ** 2;
  const middleOf = (a: number, b: number): number => {
    const key = Math.min(a, b) * 2 ** 26 + Math.max(a, b);
    const known = middles.get(key);
    if (known !== undefined) return known;
    const middle = places.length / 3;
    for (let k = 0; k < 3; k++) places.push(places[a * 3 + k]! + way(a, b, k) / 2);
    middles.set(key, middle);
    return middle;
  };
  for (let node = 0; node < split.length && split.length < MOST_NODES; node++) {
    let side = 3;
    let longestHere = limit;
    for (let k = 0; k < 3; k++) {
      const length = squared(corners[node * 3 + k]!, corners[node * 3 + ((k + 1) % 3)]!);
      if (length > longestHere) {
        longestHere = length;
        side = k;
      }
    }
    if (side === 3) continue;
    const [p, q, r] = [0, 1, 2].map((k) => corners[node * 3 + ((side + k) % 3)]!) as [number, number, number];
    const m = middleOf(p, q);
    split[node] = side;
    halves[node] = split.length;
    corners.push(p, m, r, m, q, r);
    split.push(3, 3);
    halves.push(0, 0);
  }
  return {
    positions: Float32Array.from(places),
    corners: Uint32Array.from(corners),
    split: Uint8Array.from(split),
    halves: Uint32Array.from(halves),
    repeats,
  };
}

/**
 * Finds the leaf of a triangle at a place, and the weights of its corners there.
 * @param out told the three weights
 * @returns the leaf's node
 */
export function leafAt(mesh: RefinedMesh, triangle: number, b: number, c: number, out: Float64Array): number {
  const { split, halves } = mesh;
  let node = triangle;
  let [w0, w1, w2] = [1 - b - c, b, c];
  for (;;) {
    const side = split[node]!;
    if (side === 3) break;
    const [p, q, r] = side === 0 ? [w0, w1, w2] : side === 1 ? [w1, w2, w0] : [w2, w0, w1];
    // The middle is half of either end; what is left belongs to the nearer end.
    if (p >= q) {
      node = halves[node]!;
      [w0, w1, w2] = [p - q, 2 * q, r];
    } else {
      node = halves[node]! + 1;
      [w0, w1, w2] = [2 * p, q - p, r];
    }
  }
  out[0] = w0;
  out[1] = w1;
  out[2] = w2;
  return node;
}
