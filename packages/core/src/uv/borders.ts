import { nextCorner } from '../mesh/edges.ts';
import { weldPositions } from '../mesh/weld.ts';
import type { Layout } from './layout.ts';

/**
 * The borders of islands: corners from which an edge goes that only one triangle of its island has.
 * @param islands the island of each triangle
 */
export function borderCorners({ uvs, indices }: Pick<Layout, 'uvs' | 'indices'>, islands: Uint32Array): Uint32Array {
  // Vertices at one place of one island are one, islands that lie on each other stay apart.
  const places = new Float32Array((uvs.length / 2) * 3);
  for (let i = 0; i < indices.length; i++) {
    const v = indices[i]!;
    places[v * 3] = uvs[v * 2]!;
    places[v * 3 + 1] = uvs[v * 2 + 1]!;
    places[v * 3 + 2] = islands[Math.floor(i / 3)]!;
  }
  const points = weldPositions(places);
  const edge = (i: number): number => {
    const a = points[indices[i]!]!;
    const b = points[indices[nextCorner(i)]!]!;
    return Math.min(a, b) * 2 ** 26 + Math.max(a, b);
  };
  const alone = new Map<number, number>();
  for (let i = 0; i < indices.length; i++) {
    const key = edge(i);
    alone.set(key, alone.has(key) ? -1 : i);
  }
  return Uint32Array.from([...alone.values()].filter((i) => i >= 0));
}
