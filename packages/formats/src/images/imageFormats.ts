import { describeKind, type MapKind } from '@zographos/core/image';

/** The ways a map can leave, with what each is called, how its file ends, and how deep it is. */
export const IMAGE_FORMATS = {
  png8: { label: 'PNG, 8 bit', ending: 'png', mime: 'image/png', bits: 8, channels: 4 },
  png16: { label: 'PNG, 16 bit', ending: 'png', mime: 'image/png', bits: 16, channels: 4 },
  jpeg: { label: 'JPEG', ending: 'jpg', mime: 'image/jpeg', bits: 8, channels: 3 },
  webp: { label: 'WebP, lossless', ending: 'webp', mime: 'image/webp', bits: 8, channels: 4 },
  tiff8: { label: 'TIFF, 8 bit', ending: 'tif', mime: 'image/tiff', bits: 8, channels: 4 },
  tiff16: { label: 'TIFF, 16 bit', ending: 'tif', mime: 'image/tiff', bits: 16, channels: 4 },
  tiff32: { label: 'TIFF, 32-bit float', ending: 'tif', mime: 'image/tiff', bits: 32, channels: 4 },
  exr16: { label: 'EXR, 16-bit float', ending: 'exr', mime: 'image/x-exr', bits: 16, channels: 4 },
  exr: { label: 'EXR, 32-bit float', ending: 'exr', mime: 'image/x-exr', bits: 32, channels: 4 },
  tga: { label: 'TGA, 8 bit', ending: 'tga', mime: 'image/x-tga', bits: 8, channels: 4 },
} as const;

export type ImageFormat = keyof typeof IMAGE_FORMATS;

/**
 * The format in which a map is kept as a file.
 * @param wanted of a map that whole numbers can hold; others need floats
 */
export const formatFor = (kind: MapKind, wanted: ImageFormat = 'png16'): ImageFormat =>
  describeKind(kind).needsFloat && IMAGE_FORMATS[wanted].bits < 32 ? 'exr' : wanted;

export const IMAGE_FORMAT_NAMES = Object.keys(IMAGE_FORMATS) as [ImageFormat, ...ImageFormat[]];

/** Formats that hold values as they are, without their being stretched over whole numbers. */
export const isFloatFormat = (format: ImageFormat): boolean => ['exr', 'exr16', 'tiff32'].includes(format);
