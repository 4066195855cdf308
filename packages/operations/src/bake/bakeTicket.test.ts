import sharp, { type Blend } from 'sharp';
import { afterAll, describe, expect, it } from 'vitest';
import { BLEND_MODES, blended, resample, type BlendMode, type Image } from '@zographos/core/image';
import { randomNumbers, reliefPlane } from '@zographos/core/testing';
import { encodeImage } from '@zographos/formats/images';
import { bakeSettings, DEFAULT_BAKE, pictureLayer, type BakeOperationSettings } from './settings.ts';
import { bakeTicket } from './bakeTicket.ts';
import { closeBakePool } from './bakeMaps.ts';
import { hashedMesh } from '../scene/runMesh.ts';

afterAll(closeBakePool);

const SIDE = 64;
const plane = hashedMesh(reliefPlane('plate', 2, 1));

function noise(seed: number, channels: 1 | 3, from = 0, to = 1): Image {
  const random = randomNumbers(seed);
  const data = Float32Array.from({ length: SIDE * SIDE * channels }, () => from + (to - from) * random());
  return { width: SIDE, height: SIDE, channels, data };
}

async function bake(pictures: { name: string; bytes: Uint8Array }[], part: Partial<BakeOperationSettings>) {
  return bakeTicket({
    settings: bakeSettings.parse({
      ...DEFAULT_BAKE,
      size: { width: SIDE, height: SIDE },
      samples: 1,
      aim: 'shared',
      reach: { out: 0.1, in: 0.1 },
      prove: false,
      ...part,
    }),
    inputs: { receivers: [plane], sources: [plane] },
    pictures: pictures.map((picture, i) => ({ ...picture, hash: `${picture.name} ${i}` })),
    threads: 1,
    memoryLimitBytes: 8e9,
    cancelFlag: new Int32Array(new SharedArrayBuffer(4)),
    loadSeconds: 0,
    onProgress: () => {},
  });
}

/** The names that sharp has for the modes of W3C Compositing and Blending Level 1. */
const SHARPS: Partial<Record<BlendMode, Blend>> = {
  normal: 'over',
  'color-dodge': 'colour-dodge',
  'color-burn': 'colour-burn',
};

describe('blend modes', () => {
  it.each(BLEND_MODES)('%s agrees with sharp', async (mode) => {
    const values = [0, 1, 40, 63, 64, 127, 128, 191, 200, 254, 255];
    // Black below a dodge and white below a burn stay, says W3C, whatever lies above; sharp has them change at the end.
    const open = (below: number, above: number): boolean =>
      !(mode === 'color-dodge' && below === 0 && above === 255) &&
      !(mode === 'color-burn' && below === 255 && above === 0);
    const pairs = values.flatMap((below) =>
      values.filter((above) => open(below, above)).map((above) => [below, above] as const),
    );
    const raw = { width: pairs.length, height: 1, channels: 3 as const };
    const row = (of: 0 | 1): Buffer => Buffer.from(pairs.flatMap((pair) => [pair[of], pair[of], pair[of]]));
    const expected = await sharp(row(0), { raw })
      .composite([{ input: row(1), raw, blend: SHARPS[mode] ?? (mode as Blend) }])
      .removeAlpha()
      .raw()
      .toBuffer();
    pairs.forEach(([below, above], i) => {
      expect(Math.abs(blended(mode, below / 255, above / 255) * 255 - expected[i * 3]!)).toBeLessThan(1.01);
    });
  });
});

describe('resampling', () => {
  it.each(['linear', 'cubic', 'mitchell', 'lanczos2', 'lanczos3'] as const)(
    'with %s agrees with sharp',
    async (kernel) => {
      // Within bounds, for sharp cuts off what goes beyond them between the two directions.
      const image = noise(3, 3, 0.3, 0.7);
      const bytes = Uint8Array.from(image.data, (value) => Math.round(value * 255));
      const given: Image = { ...image, data: Float32Array.from(bytes, (value) => value / 255) };
      const expected = await sharp(bytes, { raw: { width: SIDE, height: SIDE, channels: 3 } })
        .resize(24, 40, { fit: 'fill', kernel })
        .raw()
        .toBuffer();
      const ours = resample(given, { width: 24, height: 40 }, kernel);
      const most = ours.data.reduce(
        (worst, value, i) => Math.max(worst, Math.abs(Math.max(0, Math.min(1, value)) * 255 - expected[i]!)),
        0,
      );
      // Sharp keeps its weights in few bits, and rounds between the two directions.
      expect(most).toBeLessThan(3);
    },
  );

  it('keeps a constant, and halves a checker to its mean', () => {
    const constant: Image = { width: 7, height: 5, channels: 1, data: new Float32Array(35).fill(0.3) };
    for (const value of resample(constant, { width: 12, height: 3 }, 'lanczos3').data)
      expect(value).toBeCloseTo(0.3, 6);
    const checker: Image = {
      width: 8,
      height: 8,
      channels: 1,
      data: Float32Array.from({ length: 64 }, (_, i) => (i + (i >> 3)) % 2),
    };
    for (const value of resample(checker, { width: 4, height: 4 }, 'linear', 'repeat').data)
      expect(value).toBeCloseTo(0.5, 6);
  });
});

describe('maps of a ticket from pictures', () => {
  it('are mixed as sharp mixes them', async () => {
    const [below, above] = [noise(1, 3), noise(2, 3)];
    const files = await Promise.all([below, above].map((image) => encodeImage(image, 'png8')));
    const pictures = {
      basecolor: [pictureLayer.parse({ picture: 0 }), pictureLayer.parse({ picture: 1, blend: 'multiply' })],
    };
    const { maps } = await bake(
      files.map((bytes, i) => ({ name: `${i}.png`, bytes })),
      { maps: ['basecolor'], pictures },
    );
    const ours = await sharp(await encodeImage(maps[0]!.image, 'png8'))
      .raw()
      .toBuffer();
    const expected = await sharp(files[0])
      .composite([{ input: Buffer.from(files[1]!), blend: 'multiply' }])
      .removeAlpha()
      .raw()
      .toBuffer();
    expect(ours.reduce((worst, value, i) => Math.max(worst, Math.abs(value - expected[i]!)), 0)).toBeLessThanOrEqual(1);
  });

  it('keep heights to the bit, below zero and above one', async () => {
    const height = noise(5, 1, -3, 7);
    const { maps } = await bake([{ name: 'h.exr', bytes: await encodeImage(height, 'exr') }], {
      maps: ['normal', 'height'],
      pictures: { height: [pictureLayer.parse({ picture: 0 })] },
    });
    expect(maps.map(({ kind }) => kind)).toEqual(['normal', 'height']);
    const { image } = maps[1]!;
    expect(image.channels).toBe(1);
    for (let i = 0; i < image.data.length; i++) expect(image.data[i]).toBeCloseTo(height.data[i]!, 4);
  });

  it('repeat or mirror beyond the border, and can be tinted and made grey', async () => {
    const image = noise(7, 3);
    const bytes = await encodeImage(image, 'png8');
    const at = async (part: object): Promise<Uint8Array> => {
      const pictures = { basecolor: [pictureLayer.parse({ picture: 0, ...part })] };
      const { maps } = await bake([{ name: 'a.png', bytes }], { maps: ['basecolor'], pictures, samples: 4 });
      return sharp(await encodeImage(maps[0]!.image, 'png8'))
        .raw()
        .toBuffer();
    };
    const row = SIDE * 3;
    const [repeated, mirrored] = [await at({ tiling: [2, 1] }), await at({ tiling: [2, 1], wrap: 'mirror' })];
    for (const x of [3, 10, 20]) {
      expect(Math.abs(repeated[row * 9 + x * 3]! - repeated[row * 9 + (x + SIDE / 2) * 3]!)).toBeLessThanOrEqual(1);
      expect(Math.abs(mirrored[row * 9 + x * 3]! - mirrored[row * 9 + (SIDE - 1 - x) * 3]!)).toBeLessThanOrEqual(1);
    }
    const grey = await at({ saturation: 0, tint: [1, 0.5, 0] });
    for (let i = 0; i < grey.length; i += 3) {
      expect(grey[i + 2]).toBe(0);
      expect(Math.abs(grey[i]! / 2 - grey[i + 1]!)).toBeLessThanOrEqual(1);
    }
  });

  it('are refused when the picture is not there, or cannot lie on the source', async () => {
    const layer = { basecolor: [pictureLayer.parse({ picture: 0 })] };
    await expect(bake([], { maps: ['basecolor'], pictures: layer })).rejects.toThrow('Choose it again');
    const elsewhere = { basecolor: [pictureLayer.parse({ picture: 0, uvSet: 3 })] };
    const picture = { name: 'a.png', bytes: await encodeImage(noise(1, 3), 'png8') };
    await expect(bake([picture], { maps: ['basecolor'], pictures: elsewhere })).rejects.toThrow('no UV set 4');
  });
});
