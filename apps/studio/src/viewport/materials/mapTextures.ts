import {
  DataTexture,
  DataUtils,
  HalfFloatType,
  LinearFilter,
  LinearMipmapLinearFilter,
  LinearSRGBColorSpace,
  NearestFilter,
  RedFormat,
  RepeatWrapping,
  RGBAFormat,
  SRGBColorSpace,
  Texture,
} from 'three';
import { isCategory, isColor, type MapKind } from '@zographos/core/image';

/** An image on its way to the view: a bitmap, or its bytes with its values where they are needed in full. */
export type ViewImage = ImageBitmap | BytesImage;

export interface BytesImage {
  width: number;
  height: number;
  rgba: Uint8ClampedArray<ArrayBuffer>;
  /** Of heights: 0 to 1, or in the unit they are displaced by. */
  values: Float32Array | null;
}

/** A map as a texture: colours through the sRGB curve, categories unfiltered; row 0 is the top of the picture. */
export function mapTexture(kind: MapKind, image: ViewImage): Texture {
  const texture =
    'rgba' in image ? new DataTexture(image.rgba, image.width, image.height, RGBAFormat) : new Texture(image);
  texture.colorSpace = isColor(kind) ? SRGBColorSpace : LinearSRGBColorSpace;
  texture.magFilter = isCategory(kind) ? NearestFilter : LinearFilter;
  texture.minFilter = LinearMipmapLinearFilter;
  texture.generateMipmaps = true;
  texture.anisotropy = 8;
  return finished(texture);
}

/** Heights for displacement, in half floats: eight bits would show as steps. */
export function heightTexture({
  width,
  height,
  values,
}: Pick<BytesImage, 'width' | 'height'> & { values: Float32Array }): Texture {
  const halves = Uint16Array.from(values, (value) => DataUtils.toHalfFloat(value));
  const texture = new DataTexture(halves, width, height, RedFormat, HalfFloatType);
  texture.colorSpace = LinearSRGBColorSpace;
  texture.magFilter = LinearFilter;
  texture.minFilter = LinearFilter;
  return finished(texture);
}

function finished<Kind extends Texture>(texture: Kind): Kind {
  texture.wrapS = RepeatWrapping;
  texture.wrapT = RepeatWrapping;
  texture.flipY = false;
  texture.needsUpdate = true;
  return texture;
}

const CHECKS = 16;

/** A checker with 32 cells along each side of the tile, for looking at stretch and density. */
export function checkerTexture(): Texture {
  const [light, dark] = [205, 110];
  const cells = [light, dark, dark, light].flatMap((value) => [value, value, value, 255]);
  const texture = new DataTexture(Uint8Array.from(cells), 2, 2, RGBAFormat);
  texture.colorSpace = SRGBColorSpace;
  texture.magFilter = NearestFilter;
  texture.minFilter = LinearMipmapLinearFilter;
  texture.generateMipmaps = true;
  texture.repeat.set(CHECKS, CHECKS);
  return finished(texture);
}
