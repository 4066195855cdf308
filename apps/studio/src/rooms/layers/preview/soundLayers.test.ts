import { describe, expect, it } from 'vitest';
import { PLAIN_BRUSH, type Stroke } from '@zographos/core/layers';
import { layersSettings, tilingSettings } from '@zographos/operations';
import { made } from '../adding/newLayers.ts';
import { PLAIN_PICTURE } from '../painting/pen.ts';
import { sound } from './soundLayers.ts';

const plain = made({ id: 'plain', name: 'Plain', content: 'plain', values: { roughness: 0.5 } });
const painted = (id: string, stroke: string): ReturnType<typeof made> =>
  made({ id, name: id, content: 'painted', channels: ['basecolor'], strokes: [stroke] });
const stroke = (part: Partial<Stroke>): Stroke => ({
  ...{ brush: PLAIN_BRUSH, paint: { roughness: 1 }, points: new Float32Array(7), seed: 1 },
  ...part,
});
const strokes = new Map([
  ['plain', stroke({})],
  ['stamped', stroke({ brush: { ...PLAIN_BRUSH, picture: { ...PLAIN_PICTURE, picture: 1 } } })],
  ['tiled', stroke({ paint: { tiling: tilingSettings.parse({ material: 0, channels: ['roughness'] }) } })],
]);

describe('layers that lack something', () => {
  it('are left out by themselves, each named with what it lacks and the way out', () => {
    const faces = (of: number) => ({ mask: { steps: [{ measure: 'faces', ranges: [[0, 4]], of }] } });
    const layers = [
      plain,
      made({ id: 'worn', name: 'Worn', content: 'plain', values: {}, mask: { steps: [{ measure: 'wear' }] } }),
      made({ id: 'oak', name: 'Oak', content: 'tiling', material: 0, channels: ['basecolor'] }),
      made({ id: 'sign', name: 'Sign', content: 'picture', picture: 1, channels: ['basecolor'] }),
      made({ id: 'known', name: 'Known', content: 'picture', picture: 0, channels: ['basecolor'] }),
      made({ id: 'old', name: 'Old', content: 'plain', values: {}, ...faces(12) }),
      made({ id: 'now', name: 'Now', content: 'plain', values: {}, ...faces(20) }),
      made({
        id: 'group',
        name: 'Group',
        content: 'group',
        layers: [{ ...plain, id: 'inner' }, painted('stamped', 'stamped')],
      }),
      ...['plain', 'tiled'].map((name) => painted(`painted ${name}`, name)),
    ];
    const settings = layersSettings.parse({
      ...{ size: { width: 64, height: 64 }, layers },
      materials: [{ name: 'Oak', maps: {} }],
    });
    const ask = {
      settings,
      pictures: [
        ['a', 'content'],
        ['b', ''],
      ] as [string, string][],
    };
    const { layers: kept, problems } = sound(ask, { tile: 1001, triangles: 20, strokes });
    expect(kept.map(({ id }) => id)).toEqual(['plain', 'known', 'now', 'group', 'painted plain']);
    expect(kept[3]).toMatchObject({ layers: [{ id: 'inner' }] });
    expect(new Map(problems.map(({ id, message }) => [id, message]))).toEqual(
      new Map([
        ['worn', expect.stringContaining('“Worn” needs the')],
        ['oak', '“Oak” has no material any more. Choose another.'],
        ['sign', expect.stringContaining('an image that is not in the project any more')],
        ['old', expect.stringContaining('picked on a mesh of 12 triangles; it now has 20. Pick them again')],
        ['stamped', expect.stringContaining('an image that is not in the project any more')],
        ['painted tiled', expect.stringContaining('painted with a material that has no maps any more')],
      ]),
    );
  });
});
