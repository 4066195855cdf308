import { connectedPieces } from '../mesh/connected.ts';
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
  const pieces = connectedPieces(weldPositions(both), indices);
  const islands = sharedUint16(pieces.length);
  pieces.forEach((piece, t) => (islands[t] = Math.min(65535, piece + 1)));
  return islands;
}
