import type { Mesh } from '../../mesh/mesh.ts';
import { connectedPieces } from '../../mesh/connected.ts';
import { weldPositions } from '../../mesh/weld.ts';
import { sharedUint32 } from '../../sharedArrays.ts';

/** What tells the pieces of an ID map apart. */
export type PieceBy = 'slot' | 'object' | 'part';

/** The pieces of some sources: one number for each triangle, and a name for each number, in alphabetical order. */
export interface Pieces {
  pieces: Uint32Array;
  names: string[];
}

/**
 * Sorts triangles into pieces: by material slot, by object, or by connected part (triangles that share a vertex
 * position). The same names get the same numbers, whatever the order of the sources.
 */
export function piecesOf(sources: readonly Mesh[], by: PieceBy): Pieces {
  const labels: string[] = [];
  const known = new Map<string, number>();
  const numberOf = (label: string): number => {
    const number = known.get(label) ?? labels.push(label) - 1;
    known.set(label, number);
    return number;
  };
  const triangles = sources.reduce((sum, mesh) => sum + mesh.indices.length / 3, 0);
  const pieces = sharedUint32(triangles);
  let at = 0;
  for (const mesh of sources) {
    const part = by === 'part' ? connectedPieces(weldPositions(mesh.positions), mesh.indices) : null;
    for (let t = 0; t < mesh.indices.length / 3; t++) {
      const label =
        by === 'slot'
          ? mesh.slots[mesh.triangleSlots[t]!]!
          : part
            ? `${mesh.name}, part ${String(part[t]! + 1).padStart(4, '0')}`
            : mesh.name;
      pieces[at++] = numberOf(label);
    }
  }
  const names = labels.toSorted();
  const rank = new Map(names.map((name, i) => [name, i]));
  const places = labels.map((label) => rank.get(label)!);
  for (let t = 0; t < triangles; t++) pieces[t] = places[pieces[t]!]!;
  return { pieces, names };
}

/**
 * The distinct vertex colours of some sources.
 * @returns the piece of each vertex, and of each piece its colour as stored and its name; what has no colour is black
 */
export function colorPieces(sources: readonly Mesh[]): Pieces & { stored: [number, number, number][] } {
  const vertices = sources.reduce((sum, mesh) => sum + mesh.positions.length / 3, 0);
  const found = new Map<number, number[]>();
  const keys = new Uint32Array(vertices);
  let at = 0;
  for (const { colors, positions } of sources) {
    for (let v = 0; v < positions.length / 3; v++, at++) {
      const bytes = [0, 1, 2].map((c) => Math.round((colors?.[v * 4 + c] ?? 0) * 255));
      const key = bytes[0]! * 65536 + bytes[1]! * 256 + bytes[2]!;
      keys[at] = key;
      if (!found.has(key)) found.set(key, bytes);
    }
  }
  const sorted = [...found.keys()].sort((a, b) => a - b);
  const rank = new Map(sorted.map((key, i) => [key, i]));
  const pieces = sharedUint32(vertices);
  for (let v = 0; v < vertices; v++) pieces[v] = rank.get(keys[v]!)!;
  return {
    pieces,
    names: sorted.map((key) => `#${key.toString(16).padStart(6, '0')}`),
    stored: sorted.map((key) => found.get(key)!.map((byte) => byte / 255) as [number, number, number]),
  };
}
