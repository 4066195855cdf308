import type { Document, Material as GltfMaterial, Texture, TextureInfo } from '@gltf-transform/core';
import { KHRTextureTransform } from '@gltf-transform/extensions';
import sharp from 'sharp';
import type { Wrap } from '@zographos/core/image';
import { UNMOVED, type Material, type Mesh, type PictureUse } from '@zographos/core/mesh';

/** A channel of a new picture: one of another's, or white. */
type Plane = PictureUse | undefined;

/**
 * Writes materials in the terms of glTF 2.0, whose pictures hold occlusion in red, roughness in green, metallic in blue,
 * and opacity in the alpha of colour: pictures that lie otherwise are packed anew.
 */
export class MaterialWriter {
  private readonly document: Document;
  private readonly materials = new Map<string, GltfMaterial>();
  private readonly textures = new Map<string, Texture>();

  constructor(document: Document) {
    this.document = document;
  }

  async write(name: string, material: Material, mesh: Mesh): Promise<GltfMaterial> {
    const key = JSON.stringify([name, material, (mesh.pictures ?? []).map((picture) => picture.name)]);
    const known = this.materials.get(key);
    if (known) return known;
    const { pictures } = material;
    const written = this.document
      .createMaterial(name)
      .setBaseColorFactor([...material.baseColor, material.opacity])
      .setRoughnessFactor(material.roughness)
      .setMetallicFactor(material.metallic)
      .setEmissiveFactor([...material.emission])
      .setNormalScale(material.normalScale);
    this.materials.set(key, written);
    if (material.opacityCutoff !== undefined) written.setAlphaMode('MASK').setAlphaCutoff(material.opacityCutoff);
    else if (material.opacity < 1 || pictures.opacity) written.setAlphaMode('BLEND');
    if (pictures.basecolor ?? pictures.opacity) {
      const texture = await this.colorTexture(pictures.basecolor, pictures.opacity, mesh);
      this.lay(
        written.setBaseColorTexture(texture).getBaseColorTextureInfo()!,
        (pictures.basecolor ?? pictures.opacity)!,
      );
    }
    if (pictures.roughness ?? pictures.metallic) {
      const texture = await this.roughTexture(pictures.roughness, pictures.metallic, mesh);
      const info = written.setMetallicRoughnessTexture(texture).getMetallicRoughnessTextureInfo()!;
      this.lay(info, (pictures.roughness ?? pictures.metallic)!);
    }
    if (pictures.normal) {
      const texture = await this.asItIs(pictures.normal, mesh);
      this.lay(written.setNormalTexture(texture).getNormalTextureInfo()!, pictures.normal);
    }
    if (pictures.ao) {
      const isRed = pictures.ao.channel === 0;
      const texture = isRed
        ? await this.asItIs(pictures.ao, mesh)
        : await this.packed('occlusion', [pictures.ao, undefined, undefined], mesh);
      this.lay(written.setOcclusionTexture(texture).getOcclusionTextureInfo()!, pictures.ao);
    }
    if (pictures.emission) {
      const texture = await this.asItIs(pictures.emission, mesh);
      this.lay(written.setEmissiveTexture(texture).getEmissiveTextureInfo()!, pictures.emission);
    }
    return written;
  }

  private async colorTexture(color: Plane, opacity: Plane, mesh: Mesh): Promise<Texture> {
    const isOne = !opacity || (color?.picture === opacity.picture && opacity.channel === 3);
    if (color && isOne) return this.asItIs(color, mesh);
    const channels = [0, 1, 2].map((channel) => color && { ...color, channel });
    return this.packed('color', [...channels, opacity], mesh);
  }

  private async roughTexture(roughness: Plane, metallic: Plane, mesh: Mesh): Promise<Texture> {
    const isOne =
      (!roughness || roughness.channel === 1) &&
      (!metallic || metallic.channel === 2) &&
      (!roughness || !metallic || roughness.picture === metallic.picture);
    if (isOne) return this.asItIs((roughness ?? metallic)!, mesh);
    return this.packed('roughness-metallic', [undefined, roughness, metallic], mesh);
  }

  /** A picture as the mesh has it; one that glTF does not know becomes PNG. */
  private async asItIs({ picture }: PictureUse, mesh: Mesh): Promise<Texture> {
    const { name, bytes } = mesh.pictures![picture]!;
    const known = this.textures.get(name);
    if (known?.getImage()?.length === bytes.length) return known;
    const isPng = bytes[0] === 0x89 && bytes[1] === 0x50;
    const isJpeg = bytes[0] === 0xff && bytes[1] === 0xd8;
    const image = isPng || isJpeg ? bytes : await sharp(bytes).png().toBuffer();
    const texture = this.document
      .createTexture(name.replace(/\.[^.]*$/, ''))
      .setImage(new Uint8Array(image))
      .setMimeType(isJpeg ? 'image/jpeg' : 'image/png');
    this.textures.set(name, texture);
    return texture;
  }

  /** A new picture from channels of others, as large as the largest. */
  private async packed(name: string, planes: readonly Plane[], mesh: Mesh): Promise<Texture> {
    const pictures = await Promise.all(
      planes.map(async (plane) => {
        if (!plane) return null;
        const { data, info } = await sharp(mesh.pictures![plane.picture]!.bytes)
          .toColourspace('srgb')
          .raw()
          .toBuffer({ resolveWithObject: true });
        return { data, info, channel: Math.min(plane.channel, info.channels - 1) };
      }),
    );
    const width = Math.max(...pictures.map((picture) => picture?.info.width ?? 1));
    const height = Math.max(...pictures.map((picture) => picture?.info.height ?? 1));
    const samples = new Uint8Array(width * height * planes.length).fill(255);
    pictures.forEach((picture, c) => {
      if (!picture) return;
      const { data, info, channel } = picture;
      for (let y = 0; y < height; y++) {
        const row = Math.floor((y * info.height) / height) * info.width;
        for (let x = 0; x < width; x++) {
          const from = (row + Math.floor((x * info.width) / width)) * info.channels + channel;
          samples[(y * width + x) * planes.length + c] = data[from]!;
        }
      }
    });
    const raw = { width, height, channels: planes.length as 3 | 4 };
    const image = await sharp(samples, { raw }).png().toBuffer();
    return this.document.createTexture(name).setImage(new Uint8Array(image)).setMimeType('image/png');
  }

  private lay(info: TextureInfo, { uvSet, wrap, transform }: PictureUse): void {
    info.setTexCoord(uvSet).setWrapS(modeOf(wrap[0])).setWrapT(modeOf(wrap[1]));
    if (transform.every((value, i) => value === UNMOVED[i])) return;
    // The reverse of what reading does: KHR_texture_transform counts v from the top of the picture.
    const [a, b, c, d, e, f] = transform;
    const moved = this.document
      .createExtension(KHRTextureTransform)
      .createTransform()
      .setRotation(Math.atan2(d, a))
      .setScale([Math.hypot(a, d), Math.hypot(b, e) * (a * e - b * d < 0 ? -1 : 1)])
      .setOffset([c + b, 1 - e - f]);
    info.setExtension('KHR_texture_transform', moved);
  }
}

function modeOf(wrap: Wrap): 33071 | 33648 | 10497 {
  if (wrap === 'clamp') return 33071;
  return wrap === 'mirror' ? 33648 : 10497;
}
