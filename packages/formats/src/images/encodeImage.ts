import sharp, { type Sharp } from 'sharp';
import { quantised, type Image, type MapKind, type Rounding } from '@zographos/core/image';
import { encodeExr } from './exr.ts';
import type { ImageFormat } from './imageFormats.ts';
import { encodeTga } from './tga.ts';
import { encodeTiffFloat } from './tiffFloat.ts';
import { withExtraSamples } from './tiffExtraSamples.ts';

export interface EncodeOptions extends Rounding {
  /** What a fourth channel is: how opaque a place is, or any number, which TIFF tells apart. `alpha` by default. */
  fourth?: 'alpha' | 'data';
}

/** What the fourth channel of a packed file is. @param kind of the map it holds; none for a number */
export const alphaOf = (kind: MapKind | undefined): EncodeOptions => ({
  fourth: kind === 'opacity' ? 'alpha' : 'data',
});

/**
 * Encodes an image of one, three or four channels. Float formats keep every value (halves round it), JPEG leaves alpha
 * out; whole-number formats stretch the image's
 * range, apply the sRGB curve where the image asks for it, and round half up unless dither is asked for.
 */
export async function encodeImage(
  image: Image,
  format: ImageFormat,
  { fourth = 'alpha', ...rounding }: EncodeOptions = {},
): Promise<Uint8Array> {
  switch (format) {
    case 'png8':
      return sharpOf(image, 8, rounding).png({ compressionLevel: 6 }).toBuffer();
    case 'png16':
      return sharpOf(image, 16, rounding).png({ compressionLevel: 4 }).toBuffer();
    case 'jpeg':
      return sharpOf(opaque(image), 8, rounding).jpeg({ quality: 95, chromaSubsampling: '4:4:4' }).toBuffer();
    case 'webp':
      return sharpOf(image, 8, rounding).webp({ lossless: true, exact: true, effort: 2 }).toBuffer();
    case 'tiff8':
    case 'tiff16': {
      const picture = sharpOf(image, format === 'tiff8' ? 8 : 16, rounding);
      const bytes = await picture.tiff({ compression: 'deflate', predictor: 'horizontal' }).toBuffer();
      return image.channels === 4 ? withExtraSamples(bytes, fourth) : bytes;
    }
    case 'tiff32':
      return encodeTiffFloat(image, fourth);
    case 'exr16':
      return encodeExr(image, 'half');
    case 'exr':
      return encodeExr(image, 'float');
    case 'tga':
      return encodeTga(image, rounding);
  }
}

/** The colours of a picture alone. */
function opaque(image: Image): Image {
  if (image.channels < 4) return image;
  const data = new Float32Array(image.width * image.height * 3);
  for (let i = 0; i < data.length; i++) data[i] = image.data[Math.floor(i / 3) * 4 + (i % 3)]!;
  return { ...image, channels: 3, data };
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
