import { ZographosError } from '@zographos/core/errors';
import type { Image } from '@zographos/core/image';
import { checkPixels, type FormatLimits } from '../limits.ts';
import { encodeExr } from './exr.ts';
import { readExrHeader, type ExrHeader } from './exrHeader.ts';
import { readImageFile } from './readImageFile.ts';

/** Layers that one file may have. */
const MOST_LAYERS = 128;

/** A layer of an OpenEXR file: its name, and its channels in the order of a picture. */
export interface ExrLayer {
  /** '' for the channels that have none. */
  name: string;
  channels: ExrHeader['channels'];
}

/** Last parts of channel names, by the place they have in a picture. */
const PLACES: readonly (readonly string[])[] = [['R', 'X', 'U'], ['G', 'Y', 'V'], ['B', 'Z', 'W'], ['A']];

/**
 * The layers of a file by the names of its channels (OpenEXR, “Layers”): what stands before the last dot is the layer.
 * Up to four channels make a picture; of others the first.
 * @example exrLayersOf(header).map(({ name }) => name) // ['', 'diffuse', 'shadow']
 */
export function exrLayersOf({ channels }: Pick<ExrHeader, 'channels'>): ExrLayer[] {
  const layers = new Map<string, ExrHeader['channels']>();
  for (const channel of channels) {
    const layer = channel.name.slice(0, Math.max(0, channel.name.lastIndexOf('.')));
    layers.set(layer, [...(layers.get(layer) ?? []), channel]);
  }
  return [...layers].map(([name, all]) => ({ name, channels: inOrder(all) }));
}

function inOrder(all: ExrHeader['channels']): ExrHeader['channels'] {
  const last = ({ name }: ExrHeader['channels'][number]): string => name.slice(name.lastIndexOf('.') + 1).toUpperCase();
  const found = PLACES.map((names) => all.find((channel) => names.includes(last(channel))));
  const [r, g, b, a] = found;
  if (r && g && b) return a ? [r, g, b, a] : [r, g, b];
  return all.slice(0, 1);
}

/**
 * Each layer of an OpenEXR file as a file of its own: halves stay halves, and floats floats.
 * @returns nothing where the file has but one layer
 * @throws input/unreadable-file, limit/pixels
 */
export async function splitExrLayers(
  name: string,
  bytes: Uint8Array,
  limits: FormatLimits,
): Promise<{ name: string; bytes: Uint8Array }[]> {
  let header: ExrHeader;
  try {
    header = readExrHeader(bytes);
  } catch {
    // Whoever reads it as a picture says what is wrong.
    return [];
  }
  const layers = exrLayersOf(header);
  if (layers.length < 2) return [];
  if (layers.length > MOST_LAYERS) {
    throw new ZographosError(
      'input/unreadable-file',
      `“${name}” has ${layers.length} layers; at most ${MOST_LAYERS} are taken in. Save those that you need as a file.`,
    );
  }
  checkPixels(name, header.width, header.height, limits);
  const base = name.replace(/\.exr$/i, '');
  const files: { name: string; bytes: Uint8Array }[] = [];
  for (const layer of layers) {
    const isHalf = layer.channels.every(({ type }) => type === 'half');
    const image = await readLayer(name, bytes, header, layer, limits);
    files.push({
      name: `${layer.name === '' ? base : `${base}.${layer.name}`}.exr`,
      bytes: encodeExr(image, isHalf ? 'half' : 'float'),
    });
  }
  return files;
}

/** @throws input/unreadable-file */
async function readLayer(
  name: string,
  bytes: Uint8Array,
  header: ExrHeader,
  { channels }: ExrLayer,
  limits: FormatLimits,
): Promise<Image> {
  const wanted = channels.length === 1 ? ['Y'] : ['R', 'G', 'B', 'A'];
  const names = header.channels.map((channel, i) => wanted[channels.indexOf(channel)] ?? `_${i}`);
  const image = await readImageFile(name, withChannelNames(bytes, header, names), limits);
  const { width, height } = image;
  // Grey is read into all colours, and colours with what covers them.
  const data = new Float32Array(width * height * channels.length);
  for (let texel = 0; texel < width * height; texel++) {
    for (let c = 0; c < channels.length; c++) {
      data[texel * channels.length + c] = image.data[texel * image.channels + c]!;
    }
  }
  return { width, height, channels: channels.length, data };
}

/** The same file with other names for its channels, which moves all that follows them. */
function withChannelNames(bytes: Uint8Array, { list, end }: ExrHeader, names: readonly string[]): Uint8Array {
  const renamed: number[] = [];
  let place = list.from;
  for (const name of names) {
    const own = bytes.indexOf(0, place);
    renamed.push(...new TextEncoder().encode(name), ...bytes.subarray(own, own + 17));
    place = own + 17;
  }
  renamed.push(0);
  const shift = renamed.length - (list.to - list.from);
  const out = new Uint8Array(bytes.length + shift);
  out.set(bytes.subarray(0, list.from));
  out.set(renamed, list.from);
  out.set(bytes.subarray(list.to), list.to + shift);
  const moved = new DataView(out.buffer);
  moved.setUint32(list.from - 4, renamed.length, true);
  moveTable(moved, end + shift, shift);
  return out;
}

/** Places of the chunks, counted from the beginning of the file: their table ends where the first of them begins. */
function moveTable(view: DataView, table: number, shift: number): void {
  let end = view.byteLength;
  for (let at = table; at + 8 <= end; at += 8) {
    const place = Number(view.getBigUint64(at, true)) + shift;
    view.setBigUint64(at, BigInt(place), true);
    end = Math.min(end, place);
  }
}
