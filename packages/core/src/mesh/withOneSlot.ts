import type { Mesh } from './mesh.ts';

/**
 * The same mesh with one material slot, as when all its slots have gone into one set of maps. What materials and colours it
 * had is in the maps now.
 * @param slot its name
 * @param keepsUvSets whether UV sets behind the first, on which the maps lie, stay
 * @example withOneSlot(mesh, 'Kit').slots // ['Kit']
 */
export function withOneSlot(
  { name, positions, normals, indices, uvSets, triangleSlots }: Mesh,
  slot: string,
  keepsUvSets = false,
): Mesh {
  return {
    ...{ name, positions, normals, indices, colors: null, slots: [slot] },
    uvSets: keepsUvSets ? uvSets : uvSets.slice(0, 1),
    triangleSlots: new Uint16Array(triangleSlots.length),
  };
}
