import type { Image, MapKind } from '@zographos/core/image';
import { PLAIN_MATERIAL, UNMOVED, type Material, type MaterialPicture, type Mesh } from '@zographos/core/mesh';
import { FIRST_TILE } from '@zographos/core/uv';

/** What maps of a set make of a material: glTF 2.0 multiplies pictures by these numbers. */
const WORN = {
  basecolor: { baseColor: [1, 1, 1] },
  roughness: { roughness: 1 },
  metallic: { metallic: 1 },
  opacity: { opacity: 1 },
  emission: { emission: [1, 1, 1] },
  normal: { normalScale: 1 },
} satisfies Partial<Record<MapKind, Partial<Material>>>;

export type WornKind = keyof typeof WORN;

/** The kinds of maps that a surface can wear. */
export const WORN_KINDS = Object.keys(WORN) as WornKind[];

/** A map that a mesh wears, as it is held: colours as light. */
export interface WornMap {
  kind: WornKind;
  tile: number;
  image: Image;
}

/**
 * A mesh that wears maps in place of what it is made of; what no map says stays as its own material has it. On a layout of
 * UDIM tiles each triangle wears the maps of its tile.
 * @param uvSet that the maps lie on
 * @example wearing(bell, 0, [{ kind: 'basecolor', tile: 1001, image }])
 */
export function wearing(mesh: Mesh, uvSet: number, maps: readonly WornMap[]): Mesh {
  const coords = (mesh.uvSets[uvSet] ?? mesh.uvSets[0])?.coords;
  if (maps.length === 0 || !coords) return mesh;
  const pictures: MaterialPicture[] = [...(mesh.pictures ?? [])];
  const numbers = new Map(
    maps.map((map) => [
      map,
      pictures.push({ name: `${map.kind}.${map.tile}`, bytes: new Uint8Array(0), image: map.image }) - 1,
    ]),
  );
  const hasColor = maps.some(({ kind }) => kind === 'basecolor');
  const materials: Material[] = [];
  const slots: string[] = [];
  const known = new Map<string, number>();
  const triangleSlots = mesh.triangleSlots.map((slot, t) => {
    const tile = tileOf(coords, mesh.indices, t);
    const key = `${slot} ${tile}`;
    const number = known.get(key) ?? materials.length;
    if (!known.has(key)) {
      known.set(key, number);
      slots.push(mesh.slots[slot]!);
      materials.push(worn(mesh.materials?.[slot] ?? PLAIN_MATERIAL, tile));
    }
    return number;
  });
  return { ...mesh, slots, triangleSlots, materials, pictures, ...(hasColor ? { colors: null } : {}) };

  function worn(own: Material, tile: number): Material {
    let material = own;
    for (const map of maps) {
      if (map.tile !== tile) continue;
      const use = {
        ...{ picture: numbers.get(map)!, uvSet, transform: UNMOVED, channel: 0 },
        wrap: ['repeat', 'repeat'] as const,
      };
      material = { ...material, ...WORN[map.kind], pictures: { ...material.pictures, [map.kind]: use } };
      const others = Object.entries(material.layers ?? {}).filter(([channel]) => channel !== map.kind);
      material.layers = Object.fromEntries(others);
      // What was told in numbers of light was told of the colour that stands there no more.
      delete material.lit;
    }
    return material;
  }
}

/** The UDIM tile that the middle of a triangle lies in. */
function tileOf(coords: Float32Array, indices: Uint32Array, triangle: number): number {
  const middle = (k: number): number => {
    let sum = 0;
    for (let corner = 0; corner < 3; corner++) sum += coords[indices[triangle * 3 + corner]! * 2 + k]!;
    return Math.floor(sum / 3);
  };
  return FIRST_TILE + middle(0) + 10 * middle(1);
}
