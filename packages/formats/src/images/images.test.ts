import { decode as decodePng } from 'fast-png';
import sharp from 'sharp';
import { FloatType } from 'three';
import { EXRLoader } from 'three/addons/loaders/EXRLoader.js';
import { TGALoader } from 'three/addons/loaders/TGALoader.js';
import UTIF from 'utif2';
import { describe, expect, it } from 'vitest';
import { ZographosError } from '@zographos/core/errors';
import { quantise, type Image } from '@zographos/core/image';
import { DEFAULT_LIMITS } from '../limits.ts';
import { loadImage, storeImage, storeStates } from '../map/storedMap.ts';
import { encodeImage } from './encodeImage.ts';
import { inspectImageFile, readImageFile } from './readImageFile.ts';

/** A picture in which every sample differs. */
function ramp(width: number, height: number, channels: number): Image {
  const count = width * height * channels;
  return {
    width,
    height,
    channels,
    data: Float32Array.from({ length: count }, (_, i) => ((i * 7919) % count) / (count - 1)),
  };
}

const exact = (bytes: Uint8Array): ArrayBuffer => Uint8Array.from(bytes).buffer;

describe('maps written, read by independent readers', () => {
  const image = ramp(37, 21, 3);

  it('PNG 8 and 16 bit: every sample exact (fast-png)', async () => {
    const eight = decodePng(await encodeImage(image, 'png8'));
    expect(eight.depth).toBe(8);
    expect(eight.data).toEqual(quantise(image.data, 8));
    const sixteen = decodePng(await encodeImage(image, 'png16'));
    expect(sixteen.depth).toBe(16);
    expect(sixteen.data).toEqual(quantise(image.data, 16));
    const grey = ramp(5, 4, 1);
    expect(decodePng(await encodeImage(grey, 'png16'))).toMatchObject({ channels: 1, data: quantise(grey.data, 16) });
  });

  it.each(['png8', 'png16', 'tiff16', 'exr'] as const)('%s comes back as it went', async (format) => {
    const name = { png8: 'a.png', png16: 'a.png', tiff16: 'a.tif', exr: 'a.exr' }[format];
    for (const channels of [1, 3]) {
      const sent = ramp(37, 21, channels);
      const back = await readImageFile(name, await encodeImage(sent, format), DEFAULT_LIMITS);
      const near = format === 'png8' ? 0.51 / 255 : 0.51 / 65535;
      sent.data.forEach((value, i) => {
        const at = Math.floor(i / channels) * back.channels + (i % channels);
        expect(Math.abs(back.data[at]! - value)).toBeLessThanOrEqual(near);
      });
    }
  });

  it.each([1, 3, 4])('EXR of %i channels has as many once it is read', async (channels) => {
    const sent = ramp(9, 7, channels);
    const bytes = await encodeImage(sent, 'exr');
    const back = await readImageFile('a.exr', bytes, DEFAULT_LIMITS);
    expect([back.channels, back.data]).toEqual([channels, sent.data]);
    expect((await inspectImageFile('a.exr', bytes, DEFAULT_LIMITS)).inspection.channels).toBe(channels);
  });

  // TIFF 6.0, section 18: 0 is unspecified data, 2 unassociated alpha.
  it.each(['tiff8', 'tiff16', 'tiff32'] as const)(
    '%s says whether a fourth channel is alpha (utif2)',
    async (format) => {
      const extra = async (fourth: 'alpha' | 'data'): Promise<unknown> => {
        const [directory] = UTIF.decode(exact(await encodeImage(ramp(9, 7, 4), format, { fourth })));
        return (directory as unknown as Record<string, number[]>)['t338'];
      };
      expect([await extra('alpha'), await extra('data')]).toEqual([[2], [0]]);
    },
  );

  it('TIFF 16 bit: every sample exact (utif2)', async () => {
    const bytes = exact(await encodeImage(image, 'tiff16'));
    const [directory] = UTIF.decode(bytes);
    UTIF.decodeImage(bytes, directory!);
    const { data } = directory as unknown as { data: Uint8Array };
    const samples = new Uint16Array(data.slice().buffer).subarray(0, image.data.length);
    expect(samples).toEqual(quantise(image.data, 16));
  });

  it('EXR: every float to the last bit, also beyond 0 to 1 (three)', async () => {
    const wild = { ...image, data: image.data.map((value, i) => (i % 5 === 0 ? -value * 1e6 : value)) };
    const read = new EXRLoader().setDataType(FloatType).parse(exact(await encodeImage(wild, 'exr'))) as unknown as {
      width: number;
      height: number;
      data: Float32Array;
    };
    expect([read.width, read.height]).toEqual([37, 21]);
    for (let y = 0; y < 21; y++) {
      for (let x = 0; x < 37; x++) {
        // The loader puts the bottom row first and adds alpha.
        const from = ((20 - y) * 37 + x) * 4;
        const at = (y * 37 + x) * 3;
        expect(read.data.subarray(from, from + 3)).toEqual(wild.data.subarray(at, at + 3));
      }
    }
  });

  it('TGA: every sample exact, first row at the top (three)', async () => {
    const read = new TGALoader().parse(exact(await encodeImage(image, 'tga'))) as { data: Uint8Array };
    const samples = quantise(image.data, 8);
    for (let i = 0; i < 37 * 21; i++)
      expect(read.data.subarray(i * 4, i * 4 + 3)).toEqual(samples.subarray(i * 3, i * 3 + 3));
  });
});

describe('stored maps', () => {
  it('come back exactly from their tiles, and hold every level down to one tile', async () => {
    const image = ramp(600, 300, 3);
    const parts: Uint8Array[] = [];
    const directory = await storeImage(image, (bytes) => Promise.resolve(void parts.push(bytes)));
    const all = Buffer.concat(parts);
    const source = (offset: number, length: number) => Promise.resolve(all.subarray(offset, offset + length));
    expect((await loadImage(directory, source)).data).toEqual(image.data);
    expect(directory.levels.map(({ width, height }) => [width, height])).toEqual([
      [600, 300],
      [300, 150],
      [150, 75],
    ]);
    expect((await loadImage(directory, source, 2)).data).toHaveLength(150 * 75 * 3);
  });

  it('keep texel states beside them at every level', async () => {
    const states = new Uint8Array(520 * 260);
    states[259 * 520 + 519] = 3;
    const parts: Uint8Array[] = [];
    const directory = await storeStates({ width: 520, height: 260 }, states, (bytes) =>
      Promise.resolve(void parts.push(bytes)),
    );
    const all = Buffer.concat(parts);
    const coarse = await loadImage(
      directory,
      (o, l) => Promise.resolve(all.subarray(o, o + l)),
      directory.levels.length - 1,
    );
    expect(coarse.data.at(-1)).toBe(3);
  });
});

describe('images brought in', () => {
  const inspect = async (name: string, bytes: Uint8Array) =>
    (await inspectImageFile(name, bytes, DEFAULT_LIMITS)).inspection;
  const flat = (rgb: [number, number, number]) =>
    sharp({ create: { width: 24, height: 16, channels: 3, background: { r: rgb[0], g: rgb[1], b: rgb[2] } } });

  it('are measured and guessed by name, and by content where the name says nothing', async () => {
    expect(await inspect('Quay_Roughness.png', await flat([90, 90, 90]).png().toBuffer())).toMatchObject({
      width: 24,
      height: 16,
      bits: 8,
      guess: { kind: 'roughness', colorSpace: 'linear', reason: 'from its name' },
    });
    expect((await inspect('baseColor.webp', await flat([200, 90, 40]).webp().toBuffer())).guess).toMatchObject({
      kind: 'basecolor',
      colorSpace: 'srgb',
    });
    expect((await inspect('a.png', await flat([128, 128, 255]).png().toBuffer())).guess).toMatchObject({
      kind: 'normal',
      colorSpace: 'linear',
    });
    expect((await inspect('b.jpg', await flat([200, 90, 40]).jpeg().toBuffer())).guess).toMatchObject({
      kind: 'image',
      colorSpace: 'srgb',
    });
    expect((await inspect('c.tif', await flat([70, 70, 70]).tiff().toBuffer())).guess.kind).toBe('mask');
  });

  it('are read in all formats and depths', async () => {
    const image = ramp(40, 30, 3);
    expect(await inspect('m.png', await encodeImage(image, 'png16'))).toMatchObject({
      bits: 16,
      width: 40,
      height: 30,
    });
    expect(await inspect('m.tif', await encodeImage(image, 'tiff16'))).toMatchObject({ bits: 16 });
    expect(await inspect('m.exr', await encodeImage(image, 'exr'))).toMatchObject({
      bits: 32,
      width: 40,
      guess: { colorSpace: 'linear' },
    });
    expect(await inspect('m.tga', await encodeImage(image, 'tga'))).toMatchObject({ bits: 8, height: 30 });
    // Radiance, by its specification: a flat scan line of RGBE quadruples, 8 × 2.
    const hdr = Buffer.concat([
      Buffer.from('#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y 2 +X 4\n', 'latin1'),
      Buffer.alloc(8 * 4, Buffer.from([128, 64, 32, 129])),
    ]);
    expect(await inspect('sky.hdr', hdr)).toMatchObject({
      width: 4,
      height: 2,
      bits: 32,
      guess: { colorSpace: 'linear' },
    });
  });

  it('are refused with the reason when they are bad', async () => {
    const png = await encodeImage(ramp(64, 64, 3), 'png8');
    const expectError = async (
      name: string,
      bytes: Uint8Array,
      code: string,
      sentence: RegExp,
      limits = DEFAULT_LIMITS,
    ) => {
      const failure = await inspectImageFile(name, bytes, limits).catch((error: unknown) => error);
      expect(failure).toBeInstanceOf(ZographosError);
      expect(failure).toMatchObject({ code, message: expect.stringMatching(sentence) as string });
    };
    await expectError('x.png', new Uint8Array(), 'input/empty-file', /0 bytes/);
    await expectError('x.jpg', png, 'input/wrong-file-type', /content is PNG/);
    await expectError('x.png', png.subarray(0, png.length / 2), 'input/unreadable-file', /cut off or damaged/);
    await expectError(
      'x.exr',
      (await encodeImage(ramp(64, 64, 3), 'exr')).subarray(0, 500),
      'input/unreadable-file',
      /cut off/,
    );
    await expectError('x.png', png, 'limit/pixels', /64 × 64.*ZOGRAPHOS_MAX_PIXELS/, {
      ...DEFAULT_LIMITS,
      pixels: 1000,
    });
    const tga = await encodeImage(ramp(64, 64, 3), 'tga');
    await expectError('x.tga', tga, 'limit/pixels', /ZOGRAPHOS_MAX_PIXELS/, { ...DEFAULT_LIMITS, pixels: 1000 });
  });

  it('say when texels are not numbers', async () => {
    const image = ramp(8, 8, 3);
    image.data[5] = NaN;
    const { findings } = await inspect('h.exr', await encodeImage(image, 'exr'));
    expect(findings[0]).toMatch(/not numbers/);
  });
});
