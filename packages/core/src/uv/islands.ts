import { weldPositions } from '../mesh/weld.ts';
import { sharedUint16 } from '../shared.ts';

/**
 * The island of each triangle: triangles that hang together in space and in the layout.
 * @returns numbers from 1; with more than 65535 islands the last number stands for all others
 */
export function islandsOf(positions: Float32Array, uvs: Float32Array, indices: Uint32Array): Uint16Array {
  const places = weldPositions(positions);
  // Place and UV as three numbers, so that the same welding finds vertices that are one in both.
  const both = new Float32Array(positions.length);
  for (let v = 0; v < places.length; v++) both.set([places[v]!, uvs[v * 2]!, uvs[v * 2 + 1]!], v * 3);
  const parent = weldPositions(both);
  const find = (vertex: number): number => {
    let v = vertex;
    while (parent[v] !== v) {
      parent[v] = parent[parent[v]!]!;
      v = parent[v]!;
    }
    return v;
  };
  for (let i = 0; i < indices.length; i += 3) {
    const a = find(indices[i]!);
    parent[find(indices[i + 1]!)] = a;
    parent[find(indices[i + 2]!)] = find(a);
  }
  const numbers = new Map<number, number>();
  const islands = sharedUint16(indices.length / 3);
  for (let t = 0; t < islands.length; t++) {
    const root = find(indices[t * 3]!);
    const number = numbers.get(root) ?? numbers.size + 1;
    numbers.set(root, number);
    islands[t] = Math.min(65535, number);
  }
  return islands;
}
