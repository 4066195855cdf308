import type { MapKind } from '@zographos/core/image';
import { PLAIN_MATERIAL, UNMOVED, type Material, type MaterialPicture, type Mesh } from '@zographos/core/mesh';
import { encodeImage, IMAGE_FORMATS } from '@zographos/formats/images';
import { asDeepAs, readSet } from './mapFolder.ts';

/** What maps of a set make of a material: glTF 2.0 multiplies pictures by these numbers. */
const WORN = {
  basecolor: { baseColor: [1, 1, 1] },
  roughness: { roughness: 1 },
  metallic: { metallic: 1 },
  emission: { emission: [1, 1, 1] },
  normal: {},
} satisfies Partial<Record<MapKind, Partial<Material>>>;

/**
 * Reads a set to be worn.
 * @param folder of the set @param uvSet that its maps lie on
 * @returns makes of a mesh one that wears its maps in place of its own materials and colours
 * @throws missing/not-found, input/bad-settings for a folder without maps
 */
export async function setToWear(folder: string, uvSet: number): Promise<(mesh: Mesh) => Mesh> {
  const { maps } = await readSet(folder);
  const pictures: MaterialPicture[] = [];
  let material: Material = { ...PLAIN_MATERIAL, pictures: {} };
  for (const [kind, plain] of Object.entries(WORN)) {
    const map = maps.get(kind as keyof typeof WORN);
    if (!map) continue;
    const { image, bits } = map;
    const format = asDeepAs([bits]);
    const { convention } = image;
    pictures.push({
      name: `${kind}.${IMAGE_FORMATS[format].ending}`,
      bytes: await encodeImage(image, format),
      // Floats are light as they are.
      ...(bits === 32 ? { isData: true } : {}),
      ...(convention ? { convention } : {}),
    });
    const use = {
      picture: pictures.length - 1,
      uvSet,
      wrap: ['repeat', 'repeat'],
      transform: UNMOVED,
      channel: 0,
    } as const;
    material = { ...material, ...plain, pictures: { ...material.pictures, [kind]: use } };
  }
  return (mesh) => ({
    ...mesh,
    colors: null,
    slots: ['set'],
    triangleSlots: new Uint16Array(mesh.triangleSlots.length),
    materials: [material],
    pictures,
  });
}
