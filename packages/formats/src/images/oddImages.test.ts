import { deflateSync } from 'node:zlib';
import sharp from 'sharp';
import { FloatType } from 'three';
import { EXRLoader } from 'three/addons/loaders/EXRLoader.js';
import UTIF from 'utif2';
import { describe, expect, it } from 'vitest';
import { quantise, type Image } from '@zographos/core/image';
import { DEFAULT_LIMITS } from '../limits.ts';
import { encodeImage } from './encodeImage.ts';
import { readImageFile } from './readImageFile.ts';

/** CRC-32 of PNG (ISO 3309). */
function crc32(bytes: Uint8Array): number {
  let crc = 0xffffffff;
  for (const byte of bytes) {
    crc ^= byte;
    for (let k = 0; k < 8; k++) crc = crc & 1 ? (crc >>> 1) ^ 0xedb88320 : crc >>> 1;
  }
  return (crc ^ 0xffffffff) >>> 0;
}

const picture = (width: number, height: number, channels: number): Image => ({
  width,
  height,
  channels,
  data: Float32Array.from({ length: width * height * channels }, (_, i) => ((i * 37) % 101) / 100),
});
// A copy: slicing a Node buffer would not make one.
const exact = (bytes: Uint8Array): ArrayBuffer => new Uint8Array(bytes).buffer;
const read = (name: string, bytes: Uint8Array): Promise<Image> => readImageFile(name, bytes, DEFAULT_LIMITS);

describe('odd pictures', () => {
  it('of one pixel, and long and thin, are read as they are', async () => {
    for (const [width, height] of [
      [1, 1],
      [30000, 2],
    ] as const) {
      const bytes = await sharp({ create: { width, height, channels: 3, background: '#804020' } })
        .png()
        .toBuffer();
      const image = await read('odd.png', bytes);
      expect([image.width, image.height]).toEqual([width, height]);
      expect(image.data[0]).toBeCloseTo(128 / 255, 6);
    }
  });

  it('in CMYK become colours, grey with alpha keeps its sixteen bits, of a moving picture the first frame counts', async () => {
    const rgb = sharp({ create: { width: 8, height: 8, channels: 3, background: '#c02020' } });
    const cmyk = await read('press.jpg', await rgb.clone().toColourspace('cmyk').jpeg().toBuffer());
    expect(cmyk.channels).toBe(3);
    expect(cmyk.data[0]).toBeGreaterThan(0.6);
    expect(cmyk.data[1]).toBeLessThan(0.4);
    const deep = Uint16Array.from({ length: 8 }, (_, i) => i * 9001);
    const raw = { width: 4, height: 1, channels: 2 as const };
    const grey = await read('grey.png', await sharp(deep, { raw }).toColourspace('grey16').png().toBuffer());
    expect(grey.channels).toBe(2);
    [...grey.data].forEach((value, i) => expect(value).toBeCloseTo(deep[i]! / 65535, 6));
    const frames = Buffer.concat(
      ['#ff0000', '#0000ff'].map((color) => Buffer.alloc(48, Buffer.from(color.slice(1), 'hex'))),
    );
    const moving = await sharp(frames, { raw: { width: 4, height: 8, channels: 3, pageHeight: 4 } })
      .webp({ lossless: true })
      .toBuffer();
    const first = await read('moving.webp', moving);
    expect([first.height, first.data[0], first.data[2]]).toEqual([4, 1, 0]);
  });

  it('with a corrupt colour profile are read all the same', async () => {
    const plain = await sharp({ create: { width: 4, height: 4, channels: 3, background: '#808080' } })
      .png()
      .toBuffer();
    // A profile that is no profile: after the header, with its checksum right.
    const profile = Buffer.concat([Buffer.from('bad\0\0', 'latin1'), deflateSync(Buffer.alloc(64, 7))]);
    const body = Buffer.concat([Buffer.from('iCCP'), profile]);
    const chunk = Buffer.concat([Buffer.alloc(4), body, Buffer.alloc(4)]);
    chunk.writeUInt32BE(profile.length, 0);
    chunk.writeUInt32BE(crc32(body), chunk.length - 4);
    const bytes = Buffer.concat([plain.subarray(0, 33), chunk, plain.subarray(33)]);
    const image = await read('profile.png', bytes);
    expect(image.data[0]).toBeCloseTo(128 / 255, 6);
  });

  it('in EXR: what is not a number becomes 0, and channels that are none of a picture are named', async () => {
    const odd = { ...picture(4, 1, 1), data: Float32Array.of(1, NaN, Infinity, -2) };
    expect([...(await read('odd.exr', await encodeImage(odd, 'exr'))).data]).toEqual([1, 0, 0, -2]);
    const named = Buffer.from(await encodeImage(picture(4, 4, 1), 'exr'));
    // The list of channels begins with the name of the only one.
    named[named.indexOf('channels\0chlist\0') + 20] = 'Z'.charCodeAt(0);
    await expect(read('depth.exr', named)).rejects.toMatchObject({
      code: 'input/unreadable-file',
      message: expect.stringContaining('has the channels Z') as string,
    });
  });
});

describe('further formats, read by independent readers', () => {
  it('TIFF 32 bit: every float to the last bit (utif2)', async () => {
    for (const channels of [1, 3, 4]) {
      const image = picture(70, 130, channels);
      image.data[5] = -3.25e-4;
      const bytes = exact(await encodeImage(image, 'tiff32'));
      const [page] = UTIF.decode(bytes);
      UTIF.decodeImage(bytes, page!);
      expect([page!.width, page!.height]).toEqual([70, 130]);
      const samples = new Float32Array(new Uint8Array(page!.data).buffer);
      expect(samples.slice(0, image.data.length)).toEqual(image.data);
    }
  });

  it('EXR 16 bit: within half a step of a half (three), beyond its largest number clamped', async () => {
    const image = { ...picture(9, 7, 3), data: picture(9, 7, 3).data.map((value) => value * 40 - 3) };
    image.data[0] = 1e9;
    const { data } = new EXRLoader()
      .setDataType(FloatType)
      .parse(exact(await encodeImage(image, 'exr16'))) as unknown as { data: Float32Array };
    for (let y = 0; y < 7; y++) {
      for (let i = 0; i < 27; i++) {
        const value = Math.min(65504, image.data[y * 27 + i]!);
        const stored = data[((6 - y) * 9 + Math.floor(i / 3)) * 4 + (i % 3)]!;
        expect(Math.abs(stored - value)).toBeLessThanOrEqual(Math.abs(value) / 2048 + 1e-7);
      }
    }
  });

  it('WebP and TIFF of 8 bit: every sample exact; JPEG: about right, without alpha (sharp)', async () => {
    const image = picture(16, 16, 4);
    for (let i = 3; i < image.data.length; i += 4) image.data[i] = 1;
    for (const format of ['webp', 'tiff8'] as const) {
      const { data, info } = await sharp(await encodeImage(image, format))
        .ensureAlpha()
        .raw()
        .toBuffer({ resolveWithObject: true });
      expect(info.channels).toBe(4);
      expect(new Uint8Array(data)).toEqual(quantise(image.data, 8));
    }
    const flat = { ...image, data: image.data.map(() => 0.5) };
    const { data, info } = await sharp(await encodeImage(flat, 'jpeg'))
      .raw()
      .toBuffer({ resolveWithObject: true });
    expect(info.channels).toBe(3);
    expect(Math.abs(data[0]! - 128)).toBeLessThanOrEqual(1);
  });
});

describe('vector pictures', () => {
  const svg = (content: string, more = 'viewBox="0 0 24 12"'): Uint8Array =>
    new TextEncoder().encode(`<?xml version="1.0"?><svg xmlns="http://www.w3.org/2000/svg" ${more}>${content}</svg>`);

  it('are drawn fine whatever size they say they have, with their transparency', async () => {
    for (const more of [
      'viewBox="0 0 24 12"',
      'width="24" height="12"',
      'width="4800" height="2400" viewBox="0 0 24 12"',
    ]) {
      const image = await read('a.svg', svg('<rect width="12" height="12" fill="#804020"/>', more));
      expect([image.width, image.height, image.channels]).toEqual([2048, 1024, 4]);
      expect(image.data[0]).toBeCloseTo(128 / 255, 6);
      const alpha = image.data.filter((_, i) => i % 4 === 3);
      if (more.includes('viewBox'))
        expect(alpha.reduce((sum, value) => sum + value) / alpha.length).toBeCloseTo(0.5, 3);
    }
  });

  it('show nothing of what lies outside their file', async () => {
    const { data } = await read('a.svg', svg('<image href="file:///etc/hostname" width="24" height="12"/><text/>'));
    expect(data.every((value) => value === 0)).toBe(true);
  });

  it('that are broken are told as such', async () => {
    for (const bytes of [
      svg('<rect').slice(0, 70),
      new TextEncoder().encode('<html><body/></html>'),
      svg('<a><b></a>'),
    ]) {
      await expect(read('a.svg', bytes)).rejects.toMatchObject({
        code: expect.stringMatching(/^input\/(unreadable-file|wrong-file-type)$/) as string,
      });
    }
  });
});
