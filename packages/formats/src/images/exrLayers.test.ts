import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Image } from '@zographos/core/image';
import { encodeExrLayers, DEFAULT_LIMITS, readImageFile, splitExrLayers } from './index.ts';
import { exrLayersOf } from './exrLayers.ts';

const picture = (width: number, height: number, channels: number, seed: number): Image => ({
  ...{ width, height, channels },
  data: Float32Array.from({ length: width * height * channels }, (_, i) => Math.fround(Math.sin(i * 7.3 + seed) * 40)),
});
const named = (...names: string[]) =>
  exrLayersOf({ channels: names.map((name) => ({ name, type: 'float' as const })) });

describe('layers of OpenEXR', () => {
  it('are told by what stands before the last dot of a channel, in the order of a picture', () => {
    const layers = named(
      'A',
      'B',
      'G',
      'R',
      'diffuse.direct.B',
      'diffuse.direct.G',
      'diffuse.direct.R',
      'depth.Z',
      'N.X',
      'N.Y',
      'N.Z',
    );
    expect(
      layers.map(({ name, channels }) => [name, channels.map((each) => each.name.split('.').at(-1)).join('')]),
    ).toEqual([
      ['', 'RGBA'],
      ['diffuse.direct', 'RGB'],
      ['depth', 'Z'],
      ['N', 'XYZ'],
    ]);
  });

  it('come out as files of their own, to the last bit, whatever they hold and however long their names are', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.integer({ min: 1, max: 40 }),
        fc.integer({ min: 1, max: 40 }),
        fc.uniqueArray(fc.stringMatching(/^[a-z]{1,40}$/), { minLength: 1, maxLength: 5 }),
        fc.array(fc.constantFrom(1, 3, 4), { minLength: 6, maxLength: 6 }),
        async (width, height, names, channels) => {
          const layers = ['', ...names].map((name, i): [string, Image] => [
            name,
            picture(width, height, channels[i]!, i),
          ]);
          const parts = await splitExrLayers('quay.exr', encodeExrLayers(layers), DEFAULT_LIMITS);
          expect(parts.map(({ name }) => name).sort()).toEqual(
            ['quay.exr', ...names.map((name) => `quay.${name}.exr`)].sort(),
          );
          for (const [name, sent] of layers) {
            const part = parts.find((each) => each.name === (name ? `quay.${name}.exr` : 'quay.exr'))!;
            const back = await readImageFile(part.name, part.bytes, DEFAULT_LIMITS);
            expect([back.width, back.height]).toEqual([width, height]);
            // Grey may be read into all colours.
            const read = Array.from(sent.data, (_, i) => {
              const [texel, c] = [Math.floor(i / sent.channels), i % sent.channels];
              return back.data[texel * back.channels + c];
            });
            expect(read).toEqual([...sent.data]);
          }
        },
      ),
      { numRuns: 40 },
    );
  });

  it('are none in a file of one picture, and halves stay halves', async () => {
    const sent = picture(8, 8, 3, 1);
    expect(await splitExrLayers('a.exr', encodeExrLayers([['', sent]]), DEFAULT_LIMITS)).toEqual([]);
    expect(await splitExrLayers('a.exr', new Uint8Array(9), DEFAULT_LIMITS)).toEqual([]);
    const [first] = await splitExrLayers(
      'a.exr',
      encodeExrLayers(
        [
          ['x', sent],
          ['y', sent],
        ],
        'half',
      ),
      DEFAULT_LIMITS,
    );
    expect(first!.bytes.length).toBeLessThan(8 * 8 * 3 * 2 + 400);
  });

  it('are refused where there are too many, or more pixels than the limit', async () => {
    const small = picture(2, 2, 1, 0);
    const many = Array.from({ length: 129 }, (_, i): [string, Image] => [`l${i}`, small]);
    await expect(splitExrLayers('a.exr', encodeExrLayers(many), DEFAULT_LIMITS)).rejects.toThrow('129 layers');
    const limits = { ...DEFAULT_LIMITS, pixels: 3 };
    await expect(splitExrLayers('a.exr', encodeExrLayers(many.slice(0, 2)), limits)).rejects.toThrow();
  });
});
