/**
 * The connected piece of each triangle: triangles that share a vertex belong together.
 * @param groups for each vertex the vertex that stands for it; vertices of one group count as one
 * @returns numbers from 0 in the order in which pieces appear
 */
export function connectedPieces(groups: Uint32Array, indices: Uint32Array): Uint32Array {
  const parent = groups.slice();
  const find = (vertex: number): number => {
    let v = vertex;
    while (parent[v] !== v) {
      parent[v] = parent[parent[v]!]!;
      v = parent[v]!;
    }
    return v;
  };
  for (let t = 0; t < indices.length; t += 3) {
    const a = find(indices[t]!);
    parent[find(indices[t + 1]!)] = a;
    parent[find(indices[t + 2]!)] = find(a);
  }
  const numbers = new Map<number, number>();
  return Uint32Array.from({ length: indices.length / 3 }, (_, t) => {
    const root = find(indices[t * 3]!);
    const number = numbers.get(root) ?? numbers.size;
    numbers.set(root, number);
    return number;
  });
}
