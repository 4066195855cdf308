import sharp, { type Sharp } from 'sharp';
import { quantised, type Image, type Rounding } from '@zographos/core';
import { encodeExr } from './exr.ts';
import { encodeTga } from './tga.ts';

/** The ways a map can leave, with what each is called and how its file ends. */
export const IMAGE_FORMATS = {
  png8: { label: 'PNG, 8 bit', ending: 'png', mime: 'image/png' },
  png16: { label: 'PNG, 16 bit', ending: 'png', mime: 'image/png' },
  tiff16: { label: 'TIFF, 16 bit', ending: 'tif', mime: 'image/tiff' },
  exr: { label: 'EXR, 32-bit float', ending: 'exr', mime: 'image/x-exr' },
  tga: { label: 'TGA, 8 bit', ending: 'tga', mime: 'image/x-tga' },
} as const;

export type ImageFormat = keyof typeof IMAGE_FORMATS;

export const IMAGE_FORMAT_NAMES = Object.keys(IMAGE_FORMATS) as [ImageFormat, ...ImageFormat[]];

/**
 * Encodes an image of one, three or four channels. EXR keeps every value; whole-number formats stretch the image's
 * range, apply the sRGB curve where the image asks for it, and round half up unless dither is asked for.
 */
export async function encodeImage(image: Image, format: ImageFormat, rounding: Rounding = {}): Promise<Uint8Array> {
  switch (format) {
    case 'png8':
      return sharpOf(image, 8, rounding).png({ compressionLevel: 6 }).toBuffer();
    case 'png16':
      return sharpOf(image, 16, rounding).png({ compressionLevel: 4 }).toBuffer();
    case 'tiff16':
      return sharpOf(image, 16, rounding).tiff({ compression: 'deflate', predictor: 'horizontal' }).toBuffer();
    case 'exr':
      return encodeExr(image);
    case 'tga':
      return encodeTga(image, rounding);
  }
}

function sharpOf(image: Image, bits: 8 | 16, rounding: Rounding = {}): Sharp {
  const { width, height, channels } = image;
  const samples = bits === 8 ? quantised(image, 8, rounding) : quantised(image, 16, rounding);
  const raw = { width, height, channels: channels as 1 | 2 | 3 | 4 };
  const picture = sharp(samples, { raw, limitInputPixels: false });
  if (channels <= 2) return picture.toColourspace(bits === 8 ? 'b-w' : 'grey16');
  return picture.toColourspace(bits === 8 ? 'srgb' : 'rgb16');
}

/** A PNG to look at, at most `side` pixels along each side; 8 bit, packed quickly rather than tightly. */
export async function encodeThumbnail(image: Image, side: number): Promise<Uint8Array> {
  return sharpOf(image, 8)
    .resize({ width: side, height: side, fit: 'inside', withoutEnlargement: true })
    .png({ compressionLevel: 2 })
    .toBuffer();
}
