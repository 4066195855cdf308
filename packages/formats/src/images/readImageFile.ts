import sharp, { type Sharp } from 'sharp';
import { DataUtils, FloatType } from 'three';
import { EXRLoader } from 'three/addons/loaders/EXRLoader.js';
import { HDRLoader } from 'three/addons/loaders/HDRLoader.js';
import { TGALoader } from 'three/addons/loaders/TGALoader.js';
import { ZographosError } from '@zographos/core/errors';
import type { Image } from '@zographos/core/image';
import { checkPixels, type FormatLimits } from '../limits.ts';
import { encodeThumbnail } from './encodeImage.ts';
import { readExrHeader, type ExrHeader } from './exrHeader.ts';
import { guessKind, type ImageGuess } from './guessKind.ts';
import { readHdrHeader, type HdrHeader } from './hdrHeader.ts';
import { readTgaHeader, type TgaHeader } from './tgaHeader.ts';

export interface ImageInspection {
  format: string;
  width: number;
  height: number;
  channels: number;
  /** Bits of each stored sample: 8, 16 or 32 (float). */
  bits: number;
  guess: ImageGuess;
  findings: string[];
}

/** Image files by the ending of their name. */
const FORMAT_OF_ENDING: Record<string, string> = {
  png: 'png',
  jpg: 'jpeg',
  jpeg: 'jpeg',
  tif: 'tiff',
  tiff: 'tiff',
  webp: 'webp',
  exr: 'exr',
  hdr: 'hdr',
  tga: 'tga',
  svg: 'svg',
};

export const IMAGE_ENDINGS = Object.keys(FORMAT_OF_ENDING);

/** Texels of the longer side of a vector picture, whatever size it says it has: as fine as most tiles need. */
export const SVG_SIDE = 2048;
/** The root element of an SVG stands within so many bytes: before it come a declaration, comments, a document type. */
const SVG_HEAD = 65_536;

/** Sides of the reduced copy that is looked at for guessing and shown in lists. */
const SAMPLE = 256;

export function imageFormatOf(name: string): string | null {
  return FORMAT_OF_ENDING[name.slice(name.lastIndexOf('.') + 1).toLowerCase()] ?? null;
}

/**
 * Looks into an image file: its size, depth, what it probably means, and a small copy to show.
 * @throws input/empty-file, input/wrong-file-type, input/unreadable-file, limit/pixels
 */
export async function inspectImageFile(
  name: string,
  bytes: Uint8Array,
  limits: FormatLimits,
): Promise<{ inspection: ImageInspection; thumbnail: Uint8Array }> {
  const format = requireFormat(name, bytes);
  const { sample, ...measured } = isReadByLoader(format)
    ? loaderSample(name, bytes, format, limits)
    : await sharpSample(name, bytes, limits);
  const findings: string[] = [];
  const odd = sample.data.findIndex((value) => !Number.isFinite(value));
  if (odd >= 0) {
    findings.push('Some texels are not numbers (NaN or infinite); they are shown as black.');
    for (let i = 0; i < sample.data.length; i++) if (!Number.isFinite(sample.data[i])) sample.data[i] = 0;
  }
  return {
    inspection: {
      format,
      ...measured,
      guess: guessKind(name, sample, holdsFloats({ format, bits: measured.bits })),
      findings,
    },
    thumbnail: await encodeThumbnail(sample, SAMPLE),
  };
}

/**
 * Whether the samples of an image file are floats, halves among them, which are values as they are and never sRGB.
 * @example holdsFloats({ format: 'exr', bits: 16 }) // true
 */
export const holdsFloats = ({ format, bits }: Pick<ImageInspection, 'format' | 'bits'>): boolean =>
  format === 'exr' || format === 'hdr' || bits === 32;

/** Formats that loaders of three read; sharp reads the others. */
const isReadByLoader = (format: string): boolean => ['exr', 'hdr', 'tga'].includes(format);

function requireFormat(name: string, bytes: Uint8Array): string {
  const format = imageFormatOf(name);
  if (!format) {
    throw new ZographosError(
      'input/wrong-file-type',
      `“${name}” is not an image file known here. Use PNG, JPEG, TIFF, EXR, HDR, TGA, WebP or SVG.`,
    );
  }
  if (bytes.length === 0) {
    throw new ZographosError('input/empty-file', `“${name}” is empty (0 bytes). Export or copy it again.`);
  }
  const actual = signatureOf(bytes);
  if (actual !== format && !(actual === null && format === 'tga')) {
    throw new ZographosError(
      'input/wrong-file-type',
      actual
        ? `“${name}” is named as ${format.toUpperCase()}, but its content is ${actual.toUpperCase()}. Correct the file extension and import it again.`
        : `“${name}” is named as ${format.toUpperCase()}, but its content is not. Export or copy it again.`,
    );
  }
  return format;
}

function signatureOf(bytes: Uint8Array): string | null {
  const head = Buffer.from(bytes.subarray(0, 16)).toString('latin1');
  if (head.startsWith('\x89PNG')) return 'png';
  if (head.startsWith('\xff\xd8\xff')) return 'jpeg';
  if (head.startsWith('II*\0') || head.startsWith('MM\0*') || head.startsWith('II+\0')) return 'tiff';
  if (head.startsWith('RIFF') && head.slice(8, 12) === 'WEBP') return 'webp';
  if (head.startsWith('\x76\x2f\x31\x01')) return 'exr';
  if (head.startsWith('#?')) return 'hdr';
  return /<svg[\s>]/.test(Buffer.from(bytes.subarray(0, SVG_HEAD)).toString('latin1')) ? 'svg' : null;
}

interface Sample {
  sample: Image;
  width: number;
  height: number;
  channels: number;
  bits: number;
}

async function sharpSample(name: string, bytes: Uint8Array, limits: FormatLimits): Promise<Sample> {
  try {
    const picture = await opened(name, bytes);
    const { width, height, channels, depth } = await picture.metadata();
    checkPixels(name, width, height, limits);
    const small = picture.resize({ width: SAMPLE, height: SAMPLE, fit: 'inside', withoutEnlargement: true });
    const sample = await samplesOf(small, depth, channels);
    const bits = depth === 'uchar' ? 8 : isFloatDepth(depth) ? 32 : 16;
    return { sample, width, height, channels, bits };
  } catch (error) {
    if (error instanceof ZographosError) throw error;
    throw unreadable(name, error);
  }
}

function loaderSample(name: string, bytes: Uint8Array, format: string, limits: FormatLimits): Sample {
  const { image, bits } = loaderImage(name, bytes, format, limits);
  const { width, height, channels } = image;
  const step = Math.max(1, Math.ceil(Math.max(width, height) / SAMPLE));
  const sample: Image = {
    width: Math.ceil(width / step),
    height: Math.ceil(height / step),
    channels,
    data: new Float32Array(Math.ceil(width / step) * Math.ceil(height / step) * channels),
  };
  let at = 0;
  for (let y = 0; y < height; y += step) {
    for (let x = 0; x < width; x += step) {
      for (let c = 0; c < channels; c++) sample.data[at++] = image.data[(y * width + x) * channels + c]!;
    }
  }
  return { sample, width, height, channels, bits };
}

/** A whole image of a format that the loaders of three read, its top row first. */
function loaderImage(
  name: string,
  bytes: Uint8Array,
  format: string,
  limits: FormatLimits,
): { image: Image; bits: number } {
  const header = headerOf(name, bytes, format);
  checkPixels(name, header.width, header.height, limits);
  if ('channels' in header) requireKnownChannels(name, header);
  const { buffer } = new Uint8Array(bytes); // a copy: slicing a Node buffer would not make one
  let width: number;
  let height: number;
  let texels: ArrayLike<number>;
  try {
    if (format === 'tga') {
      ({ width, height, data: texels } = new TGALoader().parse(buffer) as Decoded);
    } else {
      const loader = format === 'exr' ? new EXRLoader() : new HDRLoader();
      ({ width, height, data: texels } = loader.setDataType(FloatType).parse(buffer) as unknown as Decoded);
    }
  } catch (error) {
    throw unreadable(name, error);
  }
  // Rows that are not packed come with whatever follows them.
  const channels = format === 'hdr' ? 4 : texels.length / (width * height);
  if (!Number.isInteger(channels) || texels.length < width * height * channels) throw unreadable(name, null);
  const flipped = format !== 'tga'; // these loaders put the bottom row first
  // Loaders fill up to four channels what has fewer.
  const kept = Math.min(channels, keptChannels(header, format));
  const data = new Float32Array(width * height * kept);
  for (let y = 0, to = 0; y < height; y++) {
    const row = (flipped ? height - 1 - y : y) * width;
    for (let x = 0; x < width; x++) {
      for (let c = 0; c < kept; c++) {
        const value = texels[(row + x) * channels + c]!;
        data[to++] =
          texels instanceof Uint16Array
            ? DataUtils.fromHalfFloat(value)
            : texels instanceof Float32Array
              ? value
              : value / 255;
      }
    }
  }
  const bits = format === 'tga' ? 8 : 'channels' in header && header.channels[0]!.type === 'half' ? 16 : 32;
  return { image: { width, height, channels: kept, data }, bits };
}

/** How many channels a file itself has: one of luminance, three of colours, or four with its alpha. */
function keptChannels(header: ReturnType<typeof headerOf>, format: string): number {
  if (format === 'hdr') return 3;
  if (!('channels' in header)) return 4;
  const names = header.channels.map(({ name }) => name);
  if (names.includes('A')) return 4;
  return ['R', 'G', 'B'].some((name) => names.includes(name)) ? 3 : 1;
}

/**
 * Reads a whole image file as it is stored: 0 to 1 for whole numbers, no curve taken off; values that are not numbers
 * become 0.
 * @throws input/empty-file, input/wrong-file-type, input/unreadable-file, limit/pixels
 */
export async function readImageFile(name: string, bytes: Uint8Array, limits: FormatLimits): Promise<Image> {
  const format = requireFormat(name, bytes);
  const image = isReadByLoader(format)
    ? loaderImage(name, bytes, format, limits).image
    : await sharpImage(name, bytes, limits);
  for (let i = 0; i < image.data.length; i++) if (!Number.isFinite(image.data[i])) image.data[i] = 0;
  return image;
}

async function sharpImage(name: string, bytes: Uint8Array, limits: FormatLimits): Promise<Image> {
  try {
    const picture = await opened(name, bytes);
    const { width, height, depth, channels } = await picture.metadata();
    checkPixels(name, width, height, limits);
    return await samplesOf(picture, depth, channels);
  } catch (error) {
    if (error instanceof ZographosError) throw error;
    throw unreadable(name, error);
  }
}

/** A picture that sharp reads. Vector pictures are drawn at `SVG_SIDE`; what they refer to outside themselves is left out. */
async function opened(name: string, bytes: Uint8Array): Promise<Sharp> {
  const options = { limitInputPixels: false, failOn: 'warning' } as const;
  if (imageFormatOf(name) !== 'svg') return sharp(bytes, options);
  const { width, height } = await sharp(bytes, { ...options, density: POINTS_PER_INCH }).metadata();
  const density = (POINTS_PER_INCH * SVG_SIDE) / Math.max(width, height);
  return sharp(bytes, { ...options, density: Math.max(1, Math.min(MOST_DENSITY, density)) });
}

/** At which density sharp draws a vector picture as large as it says it is, and the most that it takes. */
const POINTS_PER_INCH = 72;
const MOST_DENSITY = 100_000;

const isFloatDepth = (depth: string): boolean => depth === 'float' || depth === 'double';

/** The samples as they are stored: left to itself, sharp works in eight bits, and widens or clamps afterwards. */
async function samplesOf(picture: Sharp, depth: string, channels: number): Promise<Image> {
  const isGrey = channels < 3;
  const isFloat = isFloatDepth(depth);
  const wide = depth !== 'uchar';
  let deep = picture;
  if (isFloat && !isGrey) deep = picture.toColourspace('scrgb');
  else if (depth === 'ushort') deep = picture.toColourspace(isGrey ? 'grey16' : 'rgb16');
  const { data, info } = await deep
    .raw({ depth: isFloat ? 'float' : wide ? 'ushort' : 'uchar' })
    .toBuffer({ resolveWithObject: true });
  const { buffer, byteOffset } = data;
  const samples = info.width * info.height * info.channels;
  const values = isFloat
    ? new Float32Array(buffer, byteOffset, samples)
    : shares(wide ? new Uint16Array(buffer, byteOffset, samples) : data, wide ? 65535 : 255);
  return { width: info.width, height: info.height, channels: info.channels, data: values };
}

/** Whole numbers as shares of the greatest. */
function shares(values: Uint16Array | Uint8Array, greatest: number): Float32Array {
  const result = new Float32Array(values.length);
  for (let i = 0; i < values.length; i++) result[i] = values[i]! / greatest;
  return result;
}

interface Decoded {
  width: number;
  height: number;
  data: ArrayLike<number>;
}

/**
 * Reads the header alone, so that a file that is cut off or of absurd size is refused before memory is taken.
 * @throws input/unreadable-file
 */
function headerOf(name: string, bytes: Uint8Array, format: string): ExrHeader | HdrHeader | TgaHeader {
  try {
    return format === 'exr' ? readExrHeader(bytes) : format === 'hdr' ? readHdrHeader(bytes) : readTgaHeader(bytes);
  } catch (error) {
    throw unreadable(name, error);
  }
}

/** Channels that the loader puts into a picture. */
const EXR_CHANNELS = ['R', 'G', 'B', 'A', 'Y'];

/** @throws input/unreadable-file for a file none of whose channels is one of a picture */
function requireKnownChannels(name: string, { channels }: ExrHeader): void {
  const names = channels.map((channel) => channel.name);
  if (names.some((each) => EXR_CHANNELS.includes(each))) return;
  throw new ZographosError(
    'input/unreadable-file',
    `“${name}” has the channels ${names.slice(0, 6).join(', ')}, none of which is R, G, B, A or Y. Save it again with the names of a picture.`,
  );
}

function unreadable(name: string, cause: unknown): ZographosError {
  return new ZographosError(
    'input/unreadable-file',
    `“${name}” cannot be read: it is cut off or damaged. Export or copy it again.`,
    { cause },
  );
}
