import { ZographosError } from '../errors.ts';
import type { Material } from './material.ts';
import type { Mesh, UvSet } from './mesh.ts';

/** UV sets of a mesh, changed. Pictures of its materials stay on the set they were on. */

/** The same mesh with its UV sets in another order, some of them left out. @param order numbers of those that stay */
export function arrangeUvSets(mesh: Mesh, order: readonly number[]): Mesh {
  const placeOf = (set: number): number => Math.max(0, order.indexOf(set));
  return {
    ...mesh,
    uvSets: order.map((set) => mesh.uvSets[set]!),
    ...(mesh.materials ? { materials: mesh.materials.map((material) => onSets(material, placeOf)) } : {}),
  };
}

/** The same mesh with one more UV set, before all others; its name is made unlike theirs. */
export function addUvSet(mesh: Mesh, { name, coords }: UvSet): Mesh {
  const names = new Set(mesh.uvSets.map((set) => set.name));
  let unlike = name;
  for (let n = 2; names.has(unlike); n++) unlike = `${name} ${n}`;
  const more = { ...mesh, uvSets: [...mesh.uvSets, { name: unlike, coords }] };
  return arrangeUvSets(more, [mesh.uvSets.length, ...mesh.uvSets.keys()]);
}

/** @throws conflict/in-use when a picture of its materials lies on the set */
export function removeUvSet(mesh: Mesh, set: number): Mesh {
  const users = (mesh.materials ?? []).flatMap(({ pictures }, slot) =>
    Object.values(pictures).some(({ uvSet }) => uvSet === set) ? [mesh.slots[slot]!] : [],
  );
  if (users.length > 0) {
    throw new ZographosError(
      'conflict/in-use',
      `Pictures of ${users.map((name) => `“${name}”`).join(', ')} lie on “${mesh.uvSets[set]!.name}”. Bake them to another set first.`,
    );
  }
  return arrangeUvSets(
    mesh,
    [...mesh.uvSets.keys()].filter((each) => each !== set),
  );
}

function onSets(material: Material, placeOf: (set: number) => number): Material {
  const pictures = Object.fromEntries(
    Object.entries(material.pictures).map(([use, entry]) => [use, { ...entry, uvSet: placeOf(entry.uvSet) }]),
  );
  return { ...material, pictures };
}
