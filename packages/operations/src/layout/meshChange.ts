import { z } from 'zod';
import { addUvSet, arrangeUvSets, projectedUvs, removeUvSet, renameUvSet, type Mesh } from '@zographos/core/mesh';
import { layoutOf, moveIslands, shareIslands } from '@zographos/core/uv';
import { uvSetName } from './settings.ts';

const uvSet = z.int().min(0).max(63);
const islands = z.array(z.int().min(0)).min(1, 'Choose at least one island.').max(1_000_000);
const value = z.number().min(-1e6).max(1e6);

/** One change of a mesh that takes no time worth telling; its result is a new revision. */
export const meshChange = z.discriminatedUnion('what', [
  /** A copy of a set, or the mesh as it is seen along x, y or z. */
  z.strictObject({ what: z.literal('add-uv-set'), name: uvSetName, from: z.union([uvSet, z.enum(['x', 'y', 'z'])]) }),
  z.strictObject({ what: z.literal('rename-uv-set'), uvSet, name: uvSetName }),
  z.strictObject({ what: z.literal('remove-uv-set'), uvSet }),
  /** The same sets in another order. */
  z.strictObject({ what: z.literal('order-uv-sets'), order: z.array(uvSet).min(1) }),
  z.strictObject({
    what: z.literal('move-islands'),
    uvSet,
    moves: z
      .array(z.strictObject({ islands, matrix: z.tuple([value, value, value, value, value, value]) }))
      .min(1)
      .max(10_000),
  }),
  /** Marks islands as lying on each other on purpose, or takes the mark off. */
  z.strictObject({ what: z.literal('share-islands'), uvSet, islands, on: z.boolean() }),
]);

/** What a mesh is taken apart by. */
export const splitBy = z.discriminatedUnion('by', [
  z.strictObject({ by: z.literal('tile'), uvSet }),
  z.strictObject({ by: z.literal('slot') }),
  z.strictObject({ by: z.literal('part') }),
  z.strictObject({ by: z.literal('islands'), uvSet, islands }),
]);

export type MeshChange = z.infer<typeof meshChange>;

/** @throws input/no-uvs, input/bad-request, conflict/in-use */
export function changeMesh(mesh: Mesh, change: MeshChange): Mesh {
  switch (change.what) {
    case 'add-uv-set': {
      const { from, name } = change;
      if (typeof from === 'number') layoutOf(mesh, from);
      const set =
        typeof from === 'number' ? mesh.uvSets[from]! : { coords: projectedUvs(mesh, AXES.indexOf(from) as 0 | 1 | 2) };
      return addUvSet(mesh, { ...set, name }, 'last');
    }
    case 'rename-uv-set':
      layoutOf(mesh, change.uvSet);
      return renameUvSet(mesh, change.uvSet, change.name);
    case 'remove-uv-set':
      layoutOf(mesh, change.uvSet);
      return removeUvSet(mesh, change.uvSet);
    case 'order-uv-sets': {
      for (const set of change.order) layoutOf(mesh, set);
      // None may be lost by leaving it out.
      const all = [...new Set([...change.order, ...mesh.uvSets.keys()])];
      return arrangeUvSets(mesh, all);
    }
    case 'move-islands':
      return moveIslands(mesh, change.uvSet, change.moves);
    case 'share-islands':
      return shareIslands(mesh, change.uvSet, change.islands, change.on);
  }
}

const AXES = ['x', 'y', 'z'];

/** What a change has done, as it is told in the list of revisions. */
export function changeSentence(change: MeshChange, uvSets: readonly string[]): string {
  const nameOf = (set: number): string => `“${uvSets[set] ?? set + 1}”`;
  switch (change.what) {
    case 'add-uv-set':
      return typeof change.from === 'number'
        ? `UV set ${nameOf(change.from)} copied to “${change.name}”`
        : `UV set “${change.name}” laid flat along ${change.from}`;
    case 'rename-uv-set':
      return `UV set ${nameOf(change.uvSet)} called “${change.name}”`;
    case 'remove-uv-set':
      return `UV set ${nameOf(change.uvSet)} deleted`;
    case 'order-uv-sets':
      return 'UV sets put in another order';
    case 'move-islands': {
      const count = change.moves.reduce((sum, move) => sum + move.islands.length, 0);
      return `${count} ${count === 1 ? 'island' : 'islands'} of ${nameOf(change.uvSet)} moved`;
    }
    case 'share-islands':
      return `${change.islands.length} islands of ${nameOf(change.uvSet)} ${change.on ? 'share their room' : 'share no more'}`;
  }
}
