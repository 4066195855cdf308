import { PLAIN_MATERIAL, withPictures, type Material, type MaterialPicture } from './material.ts';
import { triangleCount, vertexCount, type Mesh } from './mesh.ts';

/**
 * Joins objects into one, keeping UVs, normals, slots (by name) and colours. UV sets are matched by their
 * order; an object that lacks one of them gets zeros there.
 */
export function joinMeshes(name: string, meshes: readonly Mesh[]): Mesh {
  const vertices = meshes.reduce((sum, mesh) => sum + vertexCount(mesh), 0);
  const triangles = meshes.reduce((sum, mesh) => sum + triangleCount(mesh), 0);
  const widest = meshes.reduce((most, mesh) => (mesh.uvSets.length > most.uvSets.length ? mesh : most), meshes[0]!);
  const joined: Mesh = {
    name,
    positions: new Float32Array(vertices * 3),
    normals: new Float32Array(vertices * 3),
    uvSets: widest.uvSets.map((set) => ({ name: set.name, coords: new Float32Array(vertices * 2) })),
    colors: meshes.some((mesh) => mesh.colors) ? new Float32Array(vertices * 4).fill(1) : null,
    indices: new Uint32Array(triangles * 3),
    slots: [...new Set(meshes.flatMap((mesh) => mesh.slots))],
    triangleSlots: new Uint16Array(triangles),
    ...joinedMaterials(meshes),
  };
  let vertex = 0;
  let triangle = 0;
  for (const mesh of meshes) {
    joined.positions.set(mesh.positions, vertex * 3);
    joined.normals.set(mesh.normals, vertex * 3);
    const first = triangle;
    mesh.uvSets.forEach(({ coords, shared = [] }, i) => {
      const set = joined.uvSets[i]!;
      set.coords.set(coords, vertex * 2);
      if (shared.length > 0) {
        set.shared = [...(set.shared ?? []), ...shared.map((stack) => stack.map((each) => each + first))];
      }
    });
    if (mesh.colors) joined.colors!.set(mesh.colors, vertex * 4);
    for (let i = 0; i < mesh.indices.length; i++) joined.indices[triangle * 3 + i] = mesh.indices[i]! + vertex;
    const slots = mesh.slots.map((slot) => joined.slots.indexOf(slot));
    for (let t = 0; t < mesh.triangleSlots.length; t++) {
      joined.triangleSlots[triangle + t] = slots[mesh.triangleSlots[t]!]!;
    }
    vertex += vertexCount(mesh);
    triangle += triangleCount(mesh);
  }
  return joined;
}

/** One material for each slot of the joined mesh; the first object that has the slot decides. */
function joinedMaterials(meshes: readonly Mesh[]): Pick<Mesh, 'materials' | 'pictures'> {
  if (!meshes.some((mesh) => mesh.materials)) return {};
  const pictures: MaterialPicture[] = [];
  const materials = new Map<string, Material>();
  for (const mesh of meshes) {
    const numbers = (mesh.pictures ?? []).map((picture) => {
      const known = pictures.indexOf(picture);
      return known >= 0 ? known : pictures.push(picture) - 1;
    });
    mesh.slots.forEach((slot, i) => {
      const material = mesh.materials?.[i] ?? PLAIN_MATERIAL;
      if (!materials.has(slot))
        materials.set(
          slot,
          withPictures(material, (number) => numbers[number]!),
        );
    });
  }
  return { materials: [...materials.values()], pictures };
}
