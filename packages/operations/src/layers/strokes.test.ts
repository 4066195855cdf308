import { describe, expect, it } from 'vitest';
import { PLAIN_BRUSH, type Layer, type Paint, type Stroke } from '@zographos/core/layers';
import { brushSentence } from './brushSentence.ts';
import { layer, tilingSettings } from './layerSettings.ts';
import { parseStackFile, renumberedLayers, renumberedStroke, stackFileOf } from './stackFile.ts';
import { recordOfStroke, strokeOfRecord, strokeRecord } from './strokeSettings.ts';

const points = Float32Array.of(1, 2, 3, 0, 0.6, 0.8, 0.25);
const tiling = tilingSettings.parse({ material: 3, channels: ['basecolor', 'normal'] });
const tiled: Stroke = {
  ...{ points, seed: 4, paint: { tiling } },
  brush: {
    ...PLAIN_BRUSH,
    varies: { radius: { by: 'random', least: 0.5 }, spacing: { by: 'pressure', least: 0.1 } },
    picture: {
      ...{ picture: 2, lies: 'surface', gives: 'normal', turn: 'pressure', angle: 10, width: 40 },
      view: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 0, 1],
    },
  },
};
const sent = (stroke: Stroke): unknown => JSON.parse(JSON.stringify(recordOfStroke(stroke)));

describe('a stroke', () => {
  it('is kept with the material that is its paint and with what differs from dab to dab', () => {
    expect(strokeOfRecord(strokeRecord.parse(sent(tiled)))).toEqual(tiled);
  });

  it('that was kept when pressure was all that made dabs differ, is what it was', () => {
    const { brush, ...rest } = sent({ ...tiled, paint: { roughness: 1 } }) as { brush: Record<string, unknown> };
    const before = Object.fromEntries(Object.entries(brush).filter(([key]) => key !== 'varies'));
    const formerly = (pressure: object): Stroke['brush'] =>
      strokeOfRecord(strokeRecord.parse({ ...rest, brush: { ...before, pressure } })).brush;
    // The radius never fell below a fiftieth; what was called strength was what each dab adds.
    expect(formerly({ radius: true, strength: true }).varies).toEqual({
      radius: { by: 'pressure', least: 0.02 },
      flow: { by: 'pressure', least: 0 },
    });
    expect(formerly({ radius: false, strength: false }).varies).toEqual({});
    expect(() => formerly({ radius: 'no' })).toThrow();
  });

  it('moves to another stack with its layer, image and material', () => {
    const numbering = { pictures: new Map([[2, 0]]), materials: new Map([[3, 1]]) };
    const moved = renumberedStroke(tiled, numbering);
    expect([moved.brush.picture?.picture, moved.paint]).toEqual([0, { tiling: { ...tiling, material: 1 } }]);
    const painted: Layer = layer.parse({
      ...{ id: 'p', name: 'Painted', content: 'painted', channels: ['basecolor'], strokes: ['s'] },
    });
    const file = stackFileOf({
      ...{ name: 'Quay', mixing: 'seen', layers: [painted], pictures: ['grain.png'] },
      materials: [
        { name: 'Oak', folder: 'oak', width: 300 },
        { name: 'Tar', folder: 'tar', width: 200 },
      ],
      ...{ strokes: { s: tiled }, pictureNumbers: numbering.pictures, materialNumbers: numbering.materials },
    });
    const read = parseStackFile('stack.json', JSON.stringify(file));
    expect(read.strokes.s).toEqual(moved);
    expect(renumberedLayers(read.layers, {})).toEqual([painted]);
  });
});

describe('the sentence of a brush', () => {
  const text = (paint: Paint, names: Parameters<typeof brushSentence>[2], brush = tiled.brush): string =>
    brushSentence(brush, paint, names)
      .map((part) => part.text)
      .join('');

  it('says what differs from dab to dab, and what the paint is', () => {
    expect(text(tiled.paint, { picture: 'grain', material: 'Oak' })).toBe(
      'Paint soft dabs of 10 mm at random, 100 % strong, one every 2.5 mm by pressure, with material Oak, image grain, tiled at 40 mm as normal; not mirrored.',
    );
    expect(text({ basecolor: '#112233', roughness: 1 }, { picture: null, screenRadius: 24 }, PLAIN_BRUSH)).toBe(
      'Paint soft dabs of 24 px, 100 % strong by pressure, one every 6 px, with #112233 and 1 more, no image; not mirrored.',
    );
  });
});
