import type { LayeredSurface } from './layeredSurface.ts';

/**
 * How triangles hang together in space, whatever their vertices are split by. A half-edge has the number of the corner where
 * it begins.
 */
export interface HalfEdges {
  /** The first vertex at the same position, for each corner. */
  corners: Uint32Array;
  /** The half-edge of the neighbour on the other side; −1 at a border, and where more than two triangles meet. */
  twins: Int32Array;
}

/** Finds the neighbours of the triangles of a surface; those of a tile that repeats have some beyond its borders. */
export function halfEdges({ welded, receiver: { indices } }: Pick<LayeredSurface, 'welded' | 'receiver'>): HalfEdges {
  const corners = indices.map((vertex) => welded[vertex]!);
  const next = (corner: number): number => (corner % 3 === 2 ? corner - 2 : corner + 1);
  // Edges sorted by their lower vertex: a hash table of so many would be slower.
  const begins = new Uint32Array(welded.length + 1);
  const lower = (e: number): number => Math.min(corners[e]!, corners[next(e)]!);
  const upper = (e: number): number => Math.max(corners[e]!, corners[next(e)]!);
  for (let e = 0; e < corners.length; e++) begins[lower(e) + 1]!++;
  for (let v = 0; v < welded.length; v++) begins[v + 1]! += begins[v]!;
  const filled = begins.slice();
  const sorted = new Uint32Array(corners.length);
  for (let e = 0; e < corners.length; e++) sorted[filled[lower(e)]!++] = e;
  const twins = new Int32Array(corners.length).fill(-1);
  for (let v = 0; v < welded.length; v++) {
    for (let i = begins[v]!; i < begins[v + 1]!; i++) {
      const edge = sorted[i]!;
      let found = -1;
      let count = 0;
      for (let j = begins[v]!; j < begins[v + 1]!; j++) {
        if (j === i || upper(sorted[j]!) !== upper(edge)) continue;
        found = sorted[j]!;
        count++;
      }
      if (count === 1) twins[edge] = found;
    }
  }
  return { corners, twins };
}
