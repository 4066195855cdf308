import { ZographosError } from '../errors.ts';
import { boundsOf } from './bounds.ts';
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

/** The same mesh with one of its UV sets before all others. */
export const uvSetFirst = (mesh: Mesh, set: number): Mesh =>
  arrangeUvSets(mesh, [set, ...[...mesh.uvSets.keys()].filter((each) => each !== set)]);

/** The same mesh with one more UV set, before or behind all others; its name is made unlike theirs. */
export function addUvSet(mesh: Mesh, { name, ...set }: UvSet, place: 'first' | 'last' = 'first'): Mesh {
  const more = { ...mesh, uvSets: [...mesh.uvSets, { ...set, name: unlikeName(mesh, name) }] };
  return place === 'last' ? more : uvSetFirst(more, mesh.uvSets.length);
}

/** @throws input/bad-request when another set has the name */
export function renameUvSet(mesh: Mesh, set: number, name: string): Mesh {
  if (mesh.uvSets.some((other, i) => i !== set && other.name === name)) {
    throw new ZographosError(
      'input/bad-request',
      `“${mesh.name}” has a UV set “${name}” already. Choose another name.`,
    );
  }
  return withUvSet(mesh, set, { name });
}

/** The same mesh with something else in one of its UV sets. */
export const withUvSet = (mesh: Mesh, set: number, change: Partial<UvSet>): Mesh => ({
  ...mesh,
  uvSets: mesh.uvSets.map((each, i) => (i === set ? { ...each, ...change } : each)),
});

function unlikeName({ uvSets }: Mesh, name: string): string {
  const names = new Set(uvSets.map((set) => set.name));
  let unlike = name;
  for (let n = 2; names.has(unlike); n++) unlike = `${name} ${n}`;
  return unlike;
}

/** UVs as a mesh is seen along an axis, as large as fits into the first tile. */
export function projectedUvs({ positions }: Mesh, axis: 0 | 1 | 2): Float32Array {
  const [across, up] = [axis === 0 ? 2 : 0, axis === 1 ? 2 : 1];
  const { min, max } = boundsOf(positions);
  const side = Math.max(max[across]! - min[across]!, max[up]! - min[up]!) || 1;
  const uvs = new Float32Array((positions.length / 3) * 2);
  for (let v = 0; v < positions.length / 3; v++) {
    uvs[v * 2] = (positions[v * 3 + across]! - min[across]!) / side;
    uvs[v * 2 + 1] = (positions[v * 3 + up]! - min[up]!) / side;
  }
  return uvs;
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
