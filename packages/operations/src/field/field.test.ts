import { describe, expect, it } from 'vitest';
import type { Image } from '@zographos/core/image';
import { fieldImage } from '@zographos/core/pattern';
import { parseSettings } from '../registry.ts';
import { drawField } from './drawField.ts';

const size = { width: 64, height: 48 };
const watch = { cancelFlag: new Int32Array(new SharedArrayBuffer(4)), onProgress: () => {}, threads: 2 };
/** White over the left half, nothing in the right. */
const bar: Image = {
  ...{ width: 8, height: 8, channels: 2, colorSpace: 'srgb' },
  data: Float32Array.from({ length: 128 }, (_, i) => ((i >> 1) % 8 < 4 ? 1 : 0)),
};

describe('procedural textures', () => {
  it('are drawn by several threads as by one, images that they repeat among them', async () => {
    const settings = parseSettings('field', {
      ...{ size, samples: 2, pictures: [{ kind: 'mask', colorSpace: 'srgb' }] },
      layers: [
        { kind: 'picture', columns: 4, rows: 2 },
        { kind: 'fibres', count: 40, blend: 'screen' },
      ],
    });
    const [map] = await drawField(settings, [bar], watch);
    const { layers, wrap, samples } = settings;
    expect(map!.image.data).toEqual(fieldImage({ layers, wrap, samples, motifs: [bar] }, size).data);
    expect(new Set(map!.image.data).size).toBeGreaterThan(10);
  });

  it('become maps of their values and of their elements: colours for IDs, else greys of their own or of a ramp', async () => {
    const ramp = [
      { at: 0, color: '#000000' },
      { at: 1, color: '#ffffff' },
    ];
    const settings = parseSettings('field', {
      ...{
        size,
        samples: 1,
        layers: [
          { kind: 'bricks', columns: 4, rows: 4 },
          { kind: 'grunge', opacity: 0.5 },
        ],
      },
      maps: [
        { kind: 'height' },
        { kind: 'id', shows: 'elements' },
        { kind: 'mask', shows: 'elements' },
        { kind: 'basecolor', shows: 'elements', ramp },
      ],
    });
    const maps = await drawField(settings, [], watch);
    const colors = maps.map(({ image: { data, channels } }) => {
      const texels = Array.from({ length: size.width * size.height }, (_, i) =>
        data.slice(i * channels, (i + 1) * channels).join(),
      );
      return new Set(texels).size;
    });
    expect(maps.map(({ image }) => image.channels)).toEqual([1, 3, 1, 3]);
    expect(colors[0]).toBeGreaterThan(100);
    expect(colors.slice(1)).toEqual([16, 16, 16]);
  });

  it('say what is missing: elements to tell apart, or an image to repeat', async () => {
    const withLayer = (kind: string, shows: string) =>
      drawField(parseSettings('field', { size, layers: [{ kind }], maps: [{ kind: 'id', shows }] }), [], watch);
    await expect(withLayer('weave', 'elements')).rejects.toThrow(/No layer has elements/);
    await expect(withLayer('picture', 'values')).rejects.toThrow(/no image to repeat/);
  });

  it('of before are read: the tone of bricks is that of their elements', () => {
    const { layers } = parseSettings('field', {
      size,
      layers: [
        { kind: 'bricks', variety: 0.4 },
        { kind: 'cells', variety: 0.3 },
      ],
    });
    expect(layers.map(({ elements }) => elements.tone)).toEqual([0.4, 0]);
  });
});
