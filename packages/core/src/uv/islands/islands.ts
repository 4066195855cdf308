import { connectedPieces } from '../../mesh/connected.ts';
import { weldPositions } from '../../mesh/weld.ts';
import { sharedUint16 } from '../../sharedArrays.ts';
import type { Layout } from '../layout.ts';

/** The island of each triangle: triangles that hang together in space and in the layout. Numbers from 0. */
export function islandNumbers({ positions, uvs, indices }: Layout): Uint32Array {
  const places = weldPositions(positions);
  // Place and UV as three numbers, so that the same welding finds vertices that are one in both.
  const both = new Float32Array(positions.length);
  for (let v = 0; v < places.length; v++) {
    both[v * 3] = places[v]!;
    both[v * 3 + 1] = uvs[v * 2]!;
    both[v * 3 + 2] = uvs[v * 2 + 1]!;
  }
  return connectedPieces(weldPositions(both), indices);
}

/** How many islands there are, given the island of each triangle. */
export const islandCount = (islands: Uint32Array): number =>
  islands.reduce((most, island) => Math.max(most, island + 1), 0);

/** The same islands with numbers that leave none out. */
export function compacted(islands: Uint32Array): Uint32Array {
  const numbers = new Map<number, number>();
  return islands.map((island) => {
    const number = numbers.get(island) ?? numbers.size;
    numbers.set(island, number);
    return number;
  });
}

/**
 * The same for threads that bake: numbers from 1 in shared memory; with more than 65535 islands the last number stands
 * for all others.
 */
export function islandsOf(positions: Float32Array, uvs: Float32Array, indices: Uint32Array): Uint16Array {
  const pieces = islandNumbers({ positions, uvs, indices });
  const islands = sharedUint16(pieces.length);
  for (let t = 0; t < pieces.length; t++) islands[t] = Math.min(65535, pieces[t]! + 1);
  return islands;
}
