import { DisjointSets } from '../math/disjointSets.ts';

/**
 * The connected piece of each triangle: triangles that share a vertex belong together.
 * @param groups for each vertex the vertex that stands for it; vertices of one group count as one
 * @returns numbers from 0 in the order in which pieces appear
 */
export function connectedPieces(groups: Uint32Array, indices: Uint32Array): Uint32Array {
  const sets = new DisjointSets(groups);
  for (let t = 0; t < indices.length; t += 3) {
    sets.join(indices[t]!, indices[t + 1]!);
    sets.join(indices[t]!, indices[t + 2]!);
  }
  const numbers = new Map<number, number>();
  return Uint32Array.from({ length: indices.length / 3 }, (_, t) => {
    const root = sets.find(indices[t * 3]!);
    const number = numbers.get(root) ?? numbers.size;
    numbers.set(root, number);
    return number;
  });
}
