import { decode as decodePng } from 'fast-png';
import fc from 'fast-check';
import { DataUtils, FloatType } from 'three';
import { EXRLoader } from 'three/addons/loaders/EXRLoader.js';
import { describe, expect, it } from 'vitest';
import { describeKind, MAP_KIND_IDS, quantised, type Image } from '@zographos/core/image';
import { DEFAULT_LIMITS } from '../limits.ts';
import { encodeImage, encodeThumbnail } from './encodeImage.ts';
import { formatFor, IMAGE_FORMAT_NAMES, IMAGE_FORMATS, isFloatFormat, type ImageFormat } from './imageFormats.ts';
import { inspectImageFile, readImageFile } from './readImageFile.ts';

/** Pictures of any small size with any values from 0 to 1, in one, three or four channels. */
const anyImage = (from = 0, to = 1) =>
  fc
    .record({
      width: fc.integer({ min: 1, max: 70 }),
      height: fc.integer({ min: 1, max: 70 }),
      channels: fc.constantFrom(1, 3, 4),
      seed: fc.integer(),
    })
    .map(({ width, height, channels, seed }): Image => {
      const data = new Float32Array(width * height * channels);
      let state = seed | 1;
      for (let i = 0; i < data.length; i++) {
        // A linear congruential generator (Numerical Recipes): any noise will do here.
        state = (Math.imul(state, 1664525) + 1013904223) | 0;
        data[i] = from + ((state >>> 0) / 2 ** 32) * (to - from);
      }
      return { width, height, channels, data };
    });

/** Sample `i` of what was sent, in what came back with possibly other channels. */
const returned = (sent: Image, back: Image, i: number): number =>
  back.data[Math.floor(i / sent.channels) * back.channels + (i % sent.channels)]!;

const fileOf = (format: ImageFormat): string => `plank.${IMAGE_FORMATS[format].ending}`;
const runs = { numRuns: 12 };

describe('any picture in any format', () => {
  const wholeNumbers = IMAGE_FORMAT_NAMES.filter((format) => !isFloatFormat(format) && format !== 'jpeg');

  it.each(wholeNumbers)('%s comes back to half a step', async (format) => {
    await fc.assert(
      fc.asyncProperty(anyImage(), async (sent) => {
        const back = await readImageFile(fileOf(format), await encodeImage(sent, format), DEFAULT_LIMITS);
        expect([back.width, back.height]).toEqual([sent.width, sent.height]);
        const step = 1 / (IMAGE_FORMATS[format].bits === 8 ? 255 : 65535);
        for (let i = 0; i < sent.data.length; i++) {
          expect(Math.abs(returned(sent, back, i) - sent.data[i]!)).toBeLessThanOrEqual(step * 0.5 + 1e-6);
        }
      }),
      runs,
    );
  });

  it.each(['exr', 'tiff32'] as const)('%s comes back to the last bit, whatever its values', async (format) => {
    await fc.assert(
      fc.asyncProperty(anyImage(-1e5, 1e7), async (sent) => {
        const back = await readImageFile(fileOf(format), await encodeImage(sent, format), DEFAULT_LIMITS);
        for (let i = 0; i < sent.data.length; i++) expect(returned(sent, back, i)).toBe(sent.data[i]);
      }),
      runs,
    );
  });

  it('exr16 comes back as the nearest half, and clamped to what halves can hold (IEEE 754 binary16)', async () => {
    const halves = new Float64Array(0x7c00).map((_, bits) => DataUtils.fromHalfFloat(bits));
    const nearest = (value: number): number => {
      let [low, high] = [0, halves.length - 1];
      while (high - low > 1) {
        const middle = (low + high) >> 1;
        if (halves[middle]! <= Math.abs(value)) low = middle;
        else high = middle;
      }
      const [below, above] = [halves[low]!, halves[high]!];
      return Math.sign(value) * (Math.abs(value) - below <= above - Math.abs(value) ? below : above);
    };
    const values = [0, 1, -1, 0.1, -0.3, 1 / 3, 2049, 65504, -65504, 1e6, 6e-8, 3.1415927];
    const sent: Image = { width: values.length, height: 1, channels: 1, data: Float32Array.from(values) };
    const back = await readImageFile('a.exr', await encodeImage(sent, 'exr16'), DEFAULT_LIMITS);
    sent.data.forEach((value, i) => {
      const expected = Math.abs(value) > 65504 ? Math.sign(value) * 65504 : nearest(value);
      expect(Math.abs(returned(sent, back, i) - expected)).toBeLessThanOrEqual(Math.abs(expected) * 1e-7);
    });
  });

  it('jpeg keeps size and channels but alpha, and slow gradients to three steps', async () => {
    const data = Float32Array.from({ length: 64 * 32 * 4 }, (_, i) => ((i >> 2) % 64) / 63);
    const sent: Image = { width: 64, height: 32, channels: 4, data };
    const back = await readImageFile('a.jpg', await encodeImage(sent, 'jpeg'), DEFAULT_LIMITS);
    expect([back.width, back.height, back.channels]).toEqual([64, 32, 3]);
    back.data.forEach((value, i) =>
      expect(Math.abs(value - sent.data[Math.floor(i / 3) * 4]!)).toBeLessThanOrEqual(3 / 255),
    );
  });

  it('colours meant for the eye go through the sRGB curve, alpha does not (IEC 61966-2-1)', async () => {
    const data = Float32Array.from([0.2140411, 0.0331048, 1, 0.5]);
    const png = decodePng(await encodeImage({ width: 1, height: 1, channels: 4, data, colorSpace: 'srgb' }, 'png16'));
    // 0.5 and 0.2 by the curve, as the standard gives them.
    expect([...png.data].map((value) => Number((value / 65535).toFixed(3)))).toEqual([0.5, 0.2, 1, 0.5]);
  });

  it('a range is stretched over the whole numbers', async () => {
    await fc.assert(
      fc.asyncProperty(anyImage(-4, 9), async (image) => {
        const sent = { ...image, range: [-4, 9] as const };
        const png = decodePng(await encodeImage(sent, 'png16'));
        expect(png.data).toEqual(quantised(sent, 16));
        const [first] = sent.data;
        if (sent.channels === 1) expect(png.data[0]).toBe(Math.floor(((first! + 4) / 13) * 65535 + 0.5));
      }),
      runs,
    );
  });

  it('dither rounds up as often as the rest says, and never by more than a step', async () => {
    const data = new Float32Array(256 * 256).fill(100.25 / 255);
    const png = decodePng(await encodeImage({ width: 256, height: 256, channels: 1, data }, 'png8', { dither: true }));
    const values = [...png.data];
    expect(new Set(values)).toEqual(new Set([100, 101]));
    const above = values.filter((value) => value === 101).length / values.length;
    // Four standard deviations of 65 536 draws at a quarter.
    expect(Math.abs(above - 0.25)).toBeLessThan(4 * Math.sqrt((0.25 * 0.75) / 65536));
  });

  it('not-a-number becomes black in whole numbers and stays in floats', async () => {
    const sent: Image = { width: 2, height: 1, channels: 1, data: Float32Array.from([NaN, 0.5]) };
    expect([...decodePng(await encodeImage(sent, 'png8')).data]).toEqual([0, 128]);
    const exr = Uint8Array.from(await encodeImage(sent, 'exr')).buffer;
    const { data } = new EXRLoader().setDataType(FloatType).parse(exr) as unknown as { data: Float32Array };
    // The loader makes red, green, blue and alpha of grey.
    const texels = data.length / 2;
    expect([data[0], data[texels]]).toEqual([NaN, 0.5]);
  });
});

describe('a map as a file', () => {
  it('needs floats where whole numbers cannot hold it, and is what was asked for elsewhere', () => {
    expect(formatFor('normal')).toBe('png16');
    expect(formatFor('normal', 'png8')).toBe('png8');
    const floats = MAP_KIND_IDS.filter((kind) => describeKind(kind).needsFloat);
    expect(floats.length).toBeGreaterThan(0);
    for (const kind of floats) {
      expect(formatFor(kind)).toBe('exr');
      expect(formatFor(kind, 'tiff32')).toBe('tiff32');
      expect(formatFor(kind, 'exr16')).toBe('exr');
    }
  });

  it.each(IMAGE_FORMAT_NAMES)('%s is told by its ending, and measured without being read', async (format) => {
    const sent: Image = { width: 5, height: 3, channels: 3, data: new Float32Array(45).fill(0.5) };
    const about = await inspectImageFile(fileOf(format), await encodeImage(sent, format), DEFAULT_LIMITS);
    expect(about.inspection).toMatchObject({ width: 5, height: 3, bits: IMAGE_FORMATS[format].bits });
  });

  it('too many pixels are refused with the figure before they are read', async () => {
    const sent: Image = { width: 40, height: 30, channels: 1, data: new Float32Array(1200) };
    for (const format of IMAGE_FORMAT_NAMES) {
      const bytes = await encodeImage(sent, format);
      await expect(readImageFile(fileOf(format), bytes, { ...DEFAULT_LIMITS, pixels: 1199 })).rejects.toMatchObject({
        code: 'limit/pixels',
      });
    }
  });

  it('cut off anywhere is an error with a reason, never a picture and never a crash', async () => {
    const sent: Image = { width: 20, height: 20, channels: 3, data: new Float32Array(1200).map((_, i) => i / 1200) };
    for (const format of ['png8', 'exr', 'tiff32', 'tga', 'jpeg', 'webp'] as const) {
      const bytes = await encodeImage(sent, format);
      for (const share of [0, 0.02, 0.5]) {
        const torn = bytes.subarray(0, Math.floor(bytes.length * share));
        const read = await readImageFile(fileOf(format), torn, DEFAULT_LIMITS).catch((error: unknown) => error);
        expect(read, `${format} at ${share}`).toMatchObject({
          code: expect.stringMatching(/^(input|limit)\//) as string,
        });
      }
    }
  });
});

describe('a thumbnail', () => {
  it('keeps the shape of the picture, and never grows it', async () => {
    const wide: Image = { width: 300, height: 100, channels: 3, data: new Float32Array(90_000).fill(0.5) };
    const small = decodePng(await encodeThumbnail(wide, 60));
    expect([small.width, small.height]).toEqual([60, 20]);
    const tiny: Image = { width: 3, height: 2, channels: 1, data: new Float32Array(6) };
    const same = decodePng(await encodeThumbnail(tiny, 60));
    expect([same.width, same.height]).toEqual([3, 2]);
  });
});
