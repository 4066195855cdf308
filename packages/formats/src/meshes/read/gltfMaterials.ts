import type { Wrap } from '@zographos/core/image';
import { UNMOVED, type Material, type PictureUse } from '@zographos/core/mesh';
import type { Document, Material as GltfMaterial, Texture, TextureInfo } from '@gltf-transform/core';
import type { EmissiveStrength, IOR, Transform, Transmission, Volume } from '@gltf-transform/extensions';
import type { PictureList } from '../pictureList.ts';

/** Reads the metallic-roughness materials of a glTF 2.0 document. */
export class GltfMaterials {
  private readonly numbers = new Map<Texture, number | null>();

  constructor(document: Document, pictures: PictureList) {
    for (const texture of document.getRoot().listTextures()) {
      const bytes = texture.getImage();
      const name =
        texture.getURI() || `${texture.getName() || 'picture'}.${texture.getMimeType().split('/')[1] ?? 'png'}`;
      if (!bytes || bytes.length === 0) {
        pictures.missing.push(name);
        this.numbers.set(texture, null);
      } else this.numbers.set(texture, pictures.add(name, bytes));
    }
  }

  read(material: GltfMaterial): Material {
    const [r, g, b, alpha] = material.getBaseColorFactor();
    const uses: Material['pictures'] = {};
    const put = (
      use: keyof Material['pictures'],
      texture: Texture | null,
      info: TextureInfo | null,
      channel: number,
    ): void => {
      const placed = texture && info ? this.placed(texture, info, channel) : null;
      if (placed) uses[use] = placed;
    };
    put('basecolor', material.getBaseColorTexture(), material.getBaseColorTextureInfo(), 0);
    put('roughness', material.getMetallicRoughnessTexture(), material.getMetallicRoughnessTextureInfo(), 1);
    put('metallic', material.getMetallicRoughnessTexture(), material.getMetallicRoughnessTextureInfo(), 2);
    put('emission', material.getEmissiveTexture(), material.getEmissiveTextureInfo(), 0);
    put('normal', material.getNormalTexture(), material.getNormalTextureInfo(), 0);
    put('ao', material.getOcclusionTexture(), material.getOcclusionTextureInfo(), 0);
    const isOpaque = material.getAlphaMode() === 'OPAQUE';
    if (!isOpaque) put('opacity', material.getBaseColorTexture(), material.getBaseColorTextureInfo(), 3);
    return {
      baseColor: [r, g, b],
      opacity: isOpaque ? 1 : alpha,
      ...(material.getAlphaMode() === 'MASK' ? { opacityCutoff: material.getAlphaCutoff() } : {}),
      roughness: material.getRoughnessFactor(),
      metallic: material.getMetallicFactor(),
      emission: material.getEmissiveFactor(),
      tinted: true,
      pictures: uses,
      normalScale: material.getNormalScale(),
      ...strengthOf(material),
      ...glassOf(material),
    };
  }

  private placed(texture: Texture, info: TextureInfo, channel: number): PictureUse | null {
    const picture = this.numbers.get(texture);
    if (picture === undefined || picture === null) return null;
    const moved = info.getExtension<Transform>('KHR_texture_transform');
    return {
      picture,
      uvSet: moved?.getTexCoord() ?? info.getTexCoord(),
      wrap: [wrapOf(info.getWrapS()), wrapOf(info.getWrapT())],
      transform: moved ? transformOf(moved) : UNMOVED,
      channel,
    };
  }
}

function strengthOf(material: GltfMaterial): Pick<Material, 'emissionStrength'> {
  const strength = material.getExtension<EmissiveStrength>('KHR_materials_emissive_strength')?.getEmissiveStrength();
  return strength === undefined || strength === 1 ? {} : { emissionStrength: strength };
}

/** What lets light through; its pictures are not read. */
function glassOf(material: GltfMaterial): Pick<Material, 'glass'> {
  const transmission = material.getExtension<Transmission>('KHR_materials_transmission')?.getTransmissionFactor() ?? 0;
  if (!(transmission > 0)) return {};
  const ior = material.getExtension<IOR>('KHR_materials_ior')?.getIOR() ?? 1.5;
  const volume = material.getExtension<Volume>('KHR_materials_volume');
  const distance = volume?.getAttenuationDistance() ?? Infinity;
  const attenuation =
    volume && Number.isFinite(distance) && distance > 0 ? { color: volume.getAttenuationColor(), distance } : null;
  return { glass: { transmission: Math.min(1, transmission), ior, attenuation } };
}

function wrapOf(mode: number): Wrap {
  if (mode === 33071) return 'clamp';
  return mode === 33648 ? 'mirror' : 'repeat';
}

/** KHR_texture_transform counts v from the top of the picture; here it runs upwards. */
function transformOf(moved: Transform): PictureUse['transform'] {
  const [su, sv] = moved.getScale();
  const [ou, ov] = moved.getOffset();
  const [sin, cos] = [Math.sin(moved.getRotation()), Math.cos(moved.getRotation())];
  const [a, b, d, e] = [su * cos, sv * sin, -su * sin, sv * cos];
  return [a, -b, b + ou, -d, e, 1 - e - ov];
}
