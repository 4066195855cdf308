import zlib from 'node:zlib';
import type { Image } from '@zographos/core/image';
import { EXTRA_SAMPLES } from './tiffExtraSamples.ts';

const ROWS_PER_STRIP = 64;

/** Field types of TIFF 6.0. */
const SHORT = 3;
const LONG = 4;

/** Writes TIFF 6.0 with samples of 32-bit float, deflated, no value changed. One, three or four channels. @param fourth what a fourth one is */
export function encodeTiffFloat(
  { width, height, channels, data }: Image,
  fourth: keyof typeof EXTRA_SAMPLES = 'alpha',
): Uint8Array {
  const strips: Buffer[] = [];
  for (let top = 0; top < height; top += ROWS_PER_STRIP) {
    const rows = data.subarray(top * width * channels, Math.min(height, top + ROWS_PER_STRIP) * width * channels);
    strips.push(zlib.deflateSync(Buffer.from(rows.buffer, rows.byteOffset, rows.byteLength), { level: 4 }));
  }
  const offsets: number[] = [];
  let at = 8;
  for (const strip of strips) {
    offsets.push(at);
    at += strip.length;
  }
  const odd = at % 2;
  const perSample = (value: number): number[] => new Array<number>(channels).fill(value);
  const fields: [tag: number, type: number, values: number[]][] = [
    [256, LONG, [width]],
    [257, LONG, [height]],
    [258, SHORT, perSample(32)],
    [259, SHORT, [8]],
    [262, SHORT, [channels < 3 ? 1 : 2]],
    [273, LONG, offsets],
    [277, SHORT, [channels]],
    [278, LONG, [ROWS_PER_STRIP]],
    [279, LONG, strips.map(({ length }) => length)],
    [284, SHORT, [1]],
    ...(channels === 4 ? ([[338, SHORT, [EXTRA_SAMPLES[fourth]]]] as [number, number, number[]][]) : []),
    [339, SHORT, perSample(3)],
  ];
  return Buffer.concat([header(at + odd), ...strips, Buffer.alloc(odd), directory(fields, at + odd)]);
}

function header(directoryAt: number): Buffer {
  const bytes = Buffer.from('II*\0\0\0\0\0', 'latin1');
  bytes.writeUInt32LE(directoryAt, 4);
  return bytes;
}

/** Values of more than four bytes lie behind the directory. */
function directory(fields: readonly [number, number, number[]][], at: number): Buffer {
  const entries = Buffer.alloc(2 + fields.length * 12 + 4);
  entries.writeUInt16LE(fields.length, 0);
  const behind: Buffer[] = [];
  let next = at + entries.length;
  fields.forEach(([tag, type, values], i) => {
    const entry = 2 + i * 12;
    const size = type === SHORT ? 2 : 4;
    const bytes = Buffer.alloc(Math.max(4, values.length * size));
    values.forEach((value, k) =>
      type === SHORT ? bytes.writeUInt16LE(value, k * 2) : bytes.writeUInt32LE(value, k * 4),
    );
    entries.writeUInt16LE(tag, entry);
    entries.writeUInt16LE(type, entry + 2);
    entries.writeUInt32LE(values.length, entry + 4);
    if (values.length * size <= 4) bytes.copy(entries, entry + 8, 0, 4);
    else {
      entries.writeUInt32LE(next, entry + 8);
      behind.push(bytes);
      next += bytes.length;
    }
  });
  return Buffer.concat([entries, ...behind]);
}
