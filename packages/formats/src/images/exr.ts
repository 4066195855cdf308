import zlib from 'node:zlib';
import { DataUtils } from 'three';
import type { Image } from '@zographos/core/image';
import type { Size } from '@zographos/core/math';

const ROWS_PER_BLOCK = 16;
const ZIP = 3;
const SAMPLE_TYPE = { half: 1, float: 2 } as const;
type SampleType = keyof typeof SAMPLE_TYPE;
/** The largest number that a half can hold. */
const LARGEST_HALF = 65504;

/** Names of channels, in the order in which they lie in our samples. */
const CHANNEL_NAMES: Record<number, string[]> = { 1: ['Y'], 3: ['R', 'G', 'B'], 4: ['R', 'G', 'B', 'A'] };

/** A channel of a file, and where its samples lie. */
interface ExrChannel {
  name: string;
  data: Float32Array;
  channel: number;
  channels: number;
}

/**
 * Writes OpenEXR 2.0: scan lines, ZIP compression. As floats no value is changed, as halves it is rounded, and clamped to
 * what they can hold. One, three or four channels.
 */
export const encodeExr = (image: Image, type: SampleType = 'float'): Uint8Array =>
  encodeChannels(image, channelsOf(image, ''), type);

/**
 * Writes pictures of one size as layers of one OpenEXR: their channels are called after them, as `diffuse.R`.
 * @param layers by name; one called '' has plain channels, which is what is seen where layers are not known
 */
export function encodeExrLayers(
  layers: readonly [name: string, image: Image][],
  type: SampleType = 'float',
): Uint8Array {
  const channels = layers.flatMap(([name, image]) => channelsOf(image, name === '' ? '' : `${name}.`));
  return encodeChannels(layers[0]![1], channels, type);
}

const channelsOf = ({ data, channels }: Image, prefix: string): ExrChannel[] =>
  CHANNEL_NAMES[channels]!.map((name, channel) => ({ name: prefix + name, data, channel, channels }));

function encodeChannels({ width, height }: Size, all: ExrChannel[], type: SampleType): Uint8Array {
  // The format stores them in alphabetical order.
  const layout = all.toSorted((a, b) => (a.name < b.name ? -1 : 1));
  const header = exrHeader(width, height, layout, type);
  const blocks: Buffer[] = [];
  for (let top = 0; top < height; top += ROWS_PER_BLOCK) {
    const rows = Math.min(ROWS_PER_BLOCK, height - top);
    const raw = new (type === 'half' ? Uint16Array : Float32Array)(rows * width * layout.length);
    let at = 0;
    for (let y = top; y < top + rows; y++) {
      for (const { data, channel, channels } of layout) {
        for (let x = 0; x < width; x++) {
          const value = data[(y * width + x) * channels + channel]!;
          raw[at++] = type === 'half' ? toHalf(value) : value;
        }
      }
    }
    const bytes = Buffer.from(raw.buffer);
    const packed = zlib.deflateSync(predict(bytes), { level: 4 });
    const body = packed.length < bytes.length ? packed : bytes;
    const head = Buffer.alloc(8);
    head.writeInt32LE(top, 0);
    head.writeInt32LE(body.length, 4);
    blocks.push(Buffer.concat([head, body]));
  }
  const table = Buffer.alloc(blocks.length * 8);
  let offset = header.length + table.length;
  blocks.forEach((block, i) => {
    table.writeBigUInt64LE(BigInt(offset), i * 8);
    offset += block.length;
  });
  return Buffer.concat([header, table, ...blocks]);
}

/** The format's ZIP preparation: even bytes before odd ones, then each as its difference to the one before. */
function predict(bytes: Buffer): Buffer {
  const sorted = Buffer.alloc(bytes.length);
  const half = Math.ceil(bytes.length / 2);
  for (let i = 0; i < bytes.length; i++) sorted[(i & 1) * half + (i >> 1)] = bytes[i]!;
  for (let i = bytes.length - 1; i > 0; i--) sorted[i] = sorted[i]! - sorted[i - 1]! + 128;
  return sorted;
}

/** The nearest half; the library's own conversion cuts off. */
function toHalf(value: number): number {
  const clamped = Math.max(-LARGEST_HALF, Math.min(LARGEST_HALF, value));
  const below = DataUtils.toHalfFloat(clamped);
  const off = Math.abs(DataUtils.fromHalfFloat(below) - clamped);
  // The next pattern of bits is the next half away from zero.
  const isNearer = off > 0 && Math.abs(DataUtils.fromHalfFloat(below + 1) - clamped) < off;
  return isNearer ? below + 1 : below;
}

function exrHeader(width: number, height: number, layout: readonly ExrChannel[], type: SampleType): Buffer {
  const window = int32s(0, 0, width - 1, height - 1);
  const channelList = Buffer.concat([
    ...layout.map(({ name }) => Buffer.concat([text(name), int32s(SAMPLE_TYPE[type]), Buffer.alloc(4), int32s(1, 1)])),
    Buffer.alloc(1),
  ]);
  return Buffer.concat([
    int32s(20000630, 2),
    attribute('channels', 'chlist', channelList),
    attribute('compression', 'compression', Buffer.from([ZIP])),
    attribute('dataWindow', 'box2i', window),
    attribute('displayWindow', 'box2i', window),
    attribute('lineOrder', 'lineOrder', Buffer.from([0])),
    attribute('pixelAspectRatio', 'float', floats(1)),
    attribute('screenWindowCenter', 'v2f', floats(0, 0)),
    attribute('screenWindowWidth', 'float', floats(1)),
    Buffer.alloc(1),
  ]);
}

const text = (value: string): Buffer => Buffer.from(`${value}\0`, 'latin1');
const int32s = (...values: number[]): Buffer => Buffer.from(Int32Array.from(values).buffer);
const floats = (...values: number[]): Buffer => Buffer.from(Float32Array.from(values).buffer);
const attribute = (name: string, type: string, value: Buffer): Buffer =>
  Buffer.concat([text(name), text(type), int32s(value.length), value]);
