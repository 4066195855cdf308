import sharp from 'sharp';
import { ZographosError } from '@zographos/core/errors';
import { checkPixels, type FormatLimits } from '../../limits.ts';
import type { FileLayer, LayeredFile } from './fileLayer.ts';
import { readOpenRaster } from './openRaster.ts';
import { readLayeredPsd } from './psd.ts';

/** Kinds of layered files by the ending of their name. */
export const LAYERED_ENDINGS = ['ora', 'psd'] as const;
export type LayeredFormat = (typeof LAYERED_ENDINGS)[number];

export const layeredFormatOf = (name: string): LayeredFormat | null =>
  LAYERED_ENDINGS.find((ending) => name.toLowerCase().endsWith(`.${ending}`)) ?? null;

/** Layers of one file: more are no picture that is painted by hand. */
export const MAX_FILE_LAYERS = 200;

/**
 * Reads the pixels of all layers of an OpenRaster or PSD file.
 * @throws input/wrong-file-type, input/unreadable-file, limit/pixels, limit/archive
 * @example (await readLayeredFile('bell.ora', bytes, DEFAULT_LIMITS)).layers[0].name // 'Signs'
 */
export async function readLayeredFile(name: string, bytes: Uint8Array, limits: FormatLimits): Promise<LayeredFile> {
  const format = layeredFormatOf(name);
  if (!format) {
    throw new ZographosError(
      'input/wrong-file-type',
      `“${name}” is no layered file. Save it as OpenRaster (.ora) or PSD (.psd).`,
    );
  }
  const checkSize = (width: number, height: number, layers: number): void => {
    checkPixels(name, width, height, limits);
    if (layers <= MAX_FILE_LAYERS) return;
    throw new ZographosError(
      'limit/objects',
      `“${name}” has ${layers} layers; the limit is ${MAX_FILE_LAYERS}. Merge those that belong together.`,
    );
  };
  const read = await (format === 'ora'
    ? readOpenRaster(name, bytes, limits, checkSize)
    : readLayeredPsd(name, bytes, checkSize));
  return { ...read, layers: await painted(read.layers) };
}

/** Layers on which there is anything. */
async function painted(layers: readonly FileLayer[]): Promise<FileLayer[]> {
  const kept: FileLayer[] = [];
  for (const layer of layers) {
    const { channels } = await sharp(layer.png, { limitInputPixels: false }).stats();
    if (channels.at(-1)!.max > 0) kept.push(layer);
  }
  return kept;
}
