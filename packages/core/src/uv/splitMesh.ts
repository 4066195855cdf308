import { islandNumbers } from './islands/islands.ts';
import { layoutOf } from './layout.ts';
import { FIRST_TILE, tileOfTriangle } from './udim.ts';
import { connectedPieces } from '../mesh/connected.ts';
import type { Mesh } from '../mesh/mesh.ts';
import { pickVertices } from '../mesh/pickVertices.ts';
import { weldPositions } from '../mesh/weld.ts';

/** What a mesh is taken apart by: tiles of a layout, material slots, connected parts, or chosen islands and the rest. */
export type SplitBy =
  | { by: 'tile'; uvSet: number }
  | { by: 'slot' }
  | { by: 'part' }
  | { by: 'islands'; uvSet: number; islands: readonly number[] };

/**
 * Takes a mesh apart, with UVs, normals, slots and colours as they are; vertices, slots and stacks of shared islands that
 * a piece does not use are left out of it.
 * @returns one mesh for each piece, named after what it is
 * @throws input/no-uvs when it is split by a layout it lacks
 */
export function splitMesh(mesh: Mesh, how: SplitBy): Mesh[] {
  const names: string[] = [];
  const numbers = new Map<string, number>();
  const nameOf = pieceNames(mesh, how);
  const pieceOf = Uint32Array.from(mesh.triangleSlots, (_, t) => {
    const name = nameOf(t);
    const number = numbers.get(name) ?? names.push(name) - 1;
    numbers.set(name, number);
    return number;
  });
  return names.map((name, piece) => pieceOfMesh(mesh, pieceOf, piece, name));
}

function pieceNames(mesh: Mesh, how: SplitBy): (triangle: number) => string {
  switch (how.by) {
    case 'slot':
      return (t) => `${mesh.name}, ${mesh.slots[mesh.triangleSlots[t]!]!}`;
    case 'part': {
      const parts = connectedPieces(weldPositions(mesh.positions), mesh.indices);
      return (t) => `${mesh.name}, part ${parts[t]! + 1}`;
    }
    case 'tile': {
      const layout = layoutOf(mesh, how.uvSet);
      return (t) => `${mesh.name}, tile ${tileOfTriangle(layout, t) ?? FIRST_TILE}`;
    }
    case 'islands': {
      const islandOf = islandNumbers(layoutOf(mesh, how.uvSet));
      const meant = new Set(how.islands);
      return (t) => (meant.has(islandOf[t]!) ? `${mesh.name}, detached` : `${mesh.name}, rest`);
    }
  }
}

function pieceOfMesh(mesh: Mesh, pieceOf: Uint32Array, piece: number, name: string): Mesh {
  const vertices: number[] = [];
  const numbers = new Map<number, number>();
  const triangles: number[] = [];
  const corners: number[] = [];
  pieceOf.forEach((of, t) => {
    if (of !== piece) return;
    triangles.push(t);
    for (let c = 0; c < 3; c++) {
      const v = mesh.indices[t * 3 + c]!;
      const number = numbers.get(v) ?? vertices.push(v) - 1;
      numbers.set(v, number);
      corners.push(number);
    }
  });
  const used = [...new Set(triangles.map((t) => mesh.triangleSlots[t]!))].sort((a, b) => a - b);
  const triangleNumbers = new Map(triangles.map((t, i) => [t, i]));
  const picked = pickVertices(mesh, Uint32Array.from(vertices), Uint32Array.from(corners));
  return {
    ...picked,
    name,
    uvSets: picked.uvSets.map(({ shared, ...set }) => ({
      ...set,
      ...(shared ? { shared: stacksWithin(shared, triangleNumbers) } : {}),
    })),
    slots: used.map((slot) => mesh.slots[slot]!),
    triangleSlots: Uint16Array.from(triangles, (t) => used.indexOf(mesh.triangleSlots[t]!)),
    ...(mesh.materials ? { materials: used.map((slot) => mesh.materials![slot]!) } : {}),
  };
}

/** Stacks of which at least two islands are left, under the new numbers of triangles. */
const stacksWithin = (shared: readonly number[][], numbers: ReadonlyMap<number, number>): number[][] =>
  shared
    .map((stack) => stack.map((t) => numbers.get(t)).filter((t) => t !== undefined))
    .filter((stack) => stack.length > 1);
