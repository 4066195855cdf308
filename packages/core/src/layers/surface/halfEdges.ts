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
  const corners = new Uint32Array(indices.length);
  for (let i = 0; i < corners.length; i++) corners[i] = welded[indices[i]!]!;
  // Edges sorted by their lower vertex: a hash table of so many would be slower.
  const begins = new Uint32Array(welded.length + 1);
  const lower = new Uint32Array(corners.length);
  const upper = new Uint32Array(corners.length);
  for (let e = 0; e < corners.length; e++) {
    const from = corners[e]!;
    const to = corners[e % 3 === 2 ? e - 2 : e + 1]!;
    lower[e] = Math.min(from, to);
    upper[e] = Math.max(from, to);
    begins[lower[e]! + 1]!++;
  }
  for (let v = 0; v < welded.length; v++) begins[v + 1]! += begins[v]!;
  const filled = begins.slice();
  const sorted = new Uint32Array(corners.length);
  for (let e = 0; e < corners.length; e++) sorted[filled[lower[e]!]!++] = e;
  const twins = new Int32Array(corners.length).fill(-1);
  for (let v = 0; v < welded.length; v++) {
    for (let i = begins[v]!; i < begins[v + 1]!; i++) {
      const edge = sorted[i]!;
      let found = -1;
      let count = 0;
      for (let j = begins[v]!; j < begins[v + 1]!; j++) {
        if (j === i || upper[sorted[j]!] !== upper[edge]) continue;
        found = sorted[j]!;
        count++;
      }
      if (count === 1) twins[edge] = found;
    }
  }
  return { corners, twins };
}
