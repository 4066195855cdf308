import { GLTF_NORMAL, inNormalSpace, type Image } from '@zographos/core/image';
import { isSameSize } from '@zographos/core/math';
import { PLAIN_MATERIAL, UNMOVED, type Material, type MaterialPicture, type PictureUse } from '@zographos/core/mesh';
import { encodeImage } from '@zographos/formats/images';
import type { CarriedKind } from './settings.ts';

/**
 * The material whose pictures are the maps; what has no map keeps the plain value. Roughness and metallic share one
 * picture, in green and blue, as glTF has them, and occlusion its red where it is as large; normals are written as glTF asks.
 * @throws input/other-convention for normals in object space
 */
export async function materialOf(
  name: string,
  maps: readonly { kind: CarriedKind; image: Image }[],
): Promise<{ material: Material; pictures: MaterialPicture[] }> {
  const pictures: MaterialPicture[] = [];
  const uses: Partial<Record<CarriedKind, PictureUse>> = {};
  const add = async (title: string, image: Image, channels: Partial<Record<CarriedKind, number>>): Promise<void> => {
    const bytes = new Uint8Array(await encodeImage(image, 'png8'));
    const picture = pictures.push({ name: `${name}_${title}.png`, bytes }) - 1;
    for (const [kind, channel] of Object.entries(channels)) {
      uses[kind as CarriedKind] = { picture, uvSet: 0, wrap: ['repeat', 'repeat'], transform: UNMOVED, channel };
    }
  };
  const asGltf = maps.map(({ kind, image }) => ({
    kind,
    image: kind === 'normal' ? inNormalSpace(image, GLTF_NORMAL, `${name}_normal`) : image,
  }));
  const of = (kind: CarriedKind): Image | undefined => asGltf.find((each) => each.kind === kind)?.image;
  const [ao, roughness, metallic] = [of('ao'), of('roughness'), of('metallic')];
  if (roughness && metallic) {
    const red = ao && isSameSize(ao, roughness) ? ao : null;
    const title = red ? 'occlusion-roughness-metallic' : 'roughness-metallic';
    await add(title, planes(red, roughness, metallic), { ...(red ? { ao: 0 } : {}), roughness: 1, metallic: 2 });
  }
  for (const { kind, image } of asGltf) if (!uses[kind]) await add(kind, image, { [kind]: 0 });
  const material: Material = {
    ...PLAIN_MATERIAL,
    ...(uses.basecolor ? { baseColor: [1, 1, 1] as const } : {}),
    ...(uses.emission ? { emission: [1, 1, 1] as const } : {}),
    ...(uses.roughness ? { roughness: 1 } : {}),
    ...(uses.metallic ? { metallic: 1 } : {}),
    tinted: true,
    pictures: uses,
  };
  return { material, pictures };
}

/** Three grey images in red, green and blue; white in red where there is none. */
function planes(red: Image | null, green: Image, blue: Image): Image {
  const data = new Float32Array(green.data.length * 3);
  for (let i = 0; i < green.data.length; i++) {
    data[i * 3] = red ? red.data[i]! : 1;
    data[i * 3 + 1] = green.data[i]!;
    data[i * 3 + 2] = blue.data[i]!;
  }
  return { width: green.width, height: green.height, channels: 3, data };
}
