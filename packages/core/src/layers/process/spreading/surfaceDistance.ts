import { wayAlong } from '../../surface/layeredSurface.ts';
import type { SourcePlaces } from '../sources.ts';
import { leafAt, type RefinedMesh } from './refinedMesh.ts';

/**
 * Distances along a surface from seeds, as shares of how far each seed reaches: from vertex to vertex in the order of
 * distance, each triangle laid flat with the seed that its two nearer corners tell of (Novotni and Klein, "Computing
 * geodesic distances on triangular meshes", 2002). Exact where the surface can be laid flat.
 * @param reaches how far each seed reaches, in the unit of positions
 * @param most the share beyond which nothing is told any more
 * @returns for each vertex the share, Infinity where no seed reaches
 */
export function distanceShares(
  mesh: RefinedMesh,
  seeds: SourcePlaces,
  reaches: Float32Array,
  most: number,
): Float32Array {
  const { positions, corners, split, repeats } = mesh;
  const vertices = positions.length / 3;
  const around = trianglesAround(mesh);
  const distances = new Float64Array(vertices).fill(Infinity);
  const seedOf = new Int32Array(vertices).fill(-1);
  const isDone = new Uint8Array(vertices);
  const shareOf = (vertex: number): number => distances[vertex]! / reaches[seedOf[vertex]!]!;
  const queue = new Queue();
  const weights = new Float64Array(3);

  const offer = (vertex: number, seed: number, distance: number): void => {
    if (isDone[vertex] || !(distance / reaches[seed]! < most)) return;
    if (seedOf[vertex]! >= 0 && shareOf(vertex) <= distance / reaches[seed]!) return;
    distances[vertex] = distance;
    seedOf[vertex] = seed;
    queue.put(vertex, distance / reaches[seed]!);
  };
  const way = (a: number, b: number, axis: number): number =>
    wayAlong(axis, positions[a * 3 + axis]!, positions[b * 3 + axis]!, repeats);
  const between = (a: number, b: number): number => Math.hypot(way(a, b, 0), way(a, b, 1), way(a, b, 2));

  for (let s = 0; s < seeds.triangles.length; s++) {
    const leaf = leafAt(mesh, seeds.triangles[s]!, seeds.weights[s * 2]!, seeds.weights[s * 2 + 1]!, weights);
    // Where the seed lies, from the first corner on.
    const [first, second, third] = [corners[leaf * 3]!, corners[leaf * 3 + 1]!, corners[leaf * 3 + 2]!];
    const place = [0, 1, 2].map(
      (axis) => weights[1]! * way(first, second, axis) + weights[2]! * way(first, third, axis),
    );
    for (const vertex of [first, second, third]) {
      offer(vertex, s, Math.hypot(...place.map((value, axis) => way(first, vertex, axis) - value)));
    }
  }
  for (let vertex = queue.take(); vertex >= 0; vertex = queue.take()) {
    if (isDone[vertex]) continue;
    isDone[vertex] = 1;
    const seed = seedOf[vertex]!;
    for (let i = around.begins[vertex]!; i < around.begins[vertex + 1]!; i++) {
      const node = around.nodes[i]!;
      if (split[node] !== 3) continue;
      for (let k = 0; k < 3; k++) {
        const to = corners[node * 3 + k]!;
        if (to === vertex || isDone[to]) continue;
        offer(to, seed, distances[vertex]! + between(vertex, to));
        const third = restOf(corners, node, vertex, to);
        if (!isDone[third] || seedOf[third] !== seed) continue;
        const flat = flatDistance(
          ...([between(vertex, third), between(vertex, to), between(third, to)] as const),
          distances[vertex]!,
          distances[third]!,
        );
        offer(to, seed, flat);
      }
    }
  }
  return Float32Array.from(distances, (_, vertex) => (isDone[vertex] ? shareOf(vertex) : Infinity));
}

/** The third corner of a triangle. */
function restOf(corners: Uint32Array, node: number, a: number, b: number): number {
  for (let k = 0; k < 3; k++) {
    const corner = corners[node * 3 + k]!;
    if (corner !== a && corner !== b) return corner;
  }
  return a;
}

/**
 * The distance of a triangle's corner C from a seed S whose distances from A and B are known, in the plane: S lies on the
 * other side of AB. Infinity where the way from S to C does not cross AB, or there is no such S.
 */
function flatDistance(ab: number, ac: number, bc: number, sa: number, sb: number): number {
  if (ab === 0) return Infinity;
  const sx = (sa * sa - sb * sb + ab * ab) / (2 * ab);
  const sy2 = sa * sa - sx * sx;
  const cx = (ac * ac - bc * bc + ab * ab) / (2 * ab);
  const cy2 = ac * ac - cx * cx;
  if (sy2 < 0 || cy2 <= 0) return Infinity;
  const [sy, cy] = [-Math.sqrt(sy2), Math.sqrt(cy2)];
  const crosses = sx + ((cx - sx) * -sy) / (cy - sy);
  if (crosses < -1e-9 * ab || crosses > ab * (1 + 1e-9)) return Infinity;
  return Math.hypot(cx - sx, cy - sy);
}

function trianglesAround({ positions, corners, split }: RefinedMesh): { begins: Uint32Array; nodes: Uint32Array } {
  const begins = new Uint32Array(positions.length / 3 + 1);
  const leaves = (visit: (node: number, vertex: number) => void): void => {
    for (let node = 0; node < split.length; node++) {
      if (split[node] !== 3) continue;
      for (let k = 0; k < 3; k++) visit(node, corners[node * 3 + k]!);
    }
  };
  let count = 0;
  leaves((_, vertex) => {
    begins[vertex + 1]!++;
    count++;
  });
  for (let v = 1; v < begins.length; v++) begins[v]! += begins[v - 1]!;
  const filled = begins.slice();
  const nodes = new Uint32Array(count);
  leaves((node, vertex) => (nodes[filled[vertex]!++] = node));
  return { begins, nodes };
}

/** Vertices in the order of their shares: a binary heap; a vertex may be in it more than once. */
class Queue {
  private readonly vertices: number[] = [];
  private readonly keys: number[] = [];

  put(vertex: number, key: number): void {
    const { vertices, keys } = this;
    let at = vertices.length;
    vertices.push(vertex);
    keys.push(key);
    while (at > 0) {
      const above = (at - 1) >> 1;
      if (keys[above]! <= key) break;
      vertices[at] = vertices[above]!;
      keys[at] = keys[above]!;
      at = above;
    }
    vertices[at] = vertex;
    keys[at] = key;
  }

  /** @returns −1 when empty */
  take(): number {
    const { vertices, keys } = this;
    const first = vertices[0];
    if (first === undefined) return -1;
    const vertex = vertices.pop()!;
    const key = keys.pop()!;
    const count = vertices.length;
    if (count === 0) return first;
    let at = 0;
    for (;;) {
      let below = at * 2 + 1;
      if (below >= count) break;
      if (below + 1 < count && keys[below + 1]! < keys[below]!) below++;
      if (keys[below]! >= key) break;
      vertices[at] = vertices[below]!;
      keys[at] = keys[below]!;
      at = below;
    }
    vertices[at] = vertex;
    keys[at] = key;
    return first;
  }
}
