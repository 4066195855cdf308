import { describe, expect, it } from 'vitest';
import { composed, layerBase } from '../../testing/layers.ts';
import { greyLevels, line, namedStrokes, paintedLayer, stroke } from '../../testing/painting.ts';
import { sphere } from '../../testing/shapes.ts';
import { pictureLevels } from '../../bake/source/sourceMaterials.ts';
import type { LayerChannel } from '../channels.ts';
import type { TilingMaterial } from '../inputs/layerInputs.ts';
import type { Layer } from '../stack.ts';
import { layeredMeshes } from '../surface/layeredSurface.ts';
import type { TilingPaint } from './stroke.ts';

/** Stripes that are rough and dark in turn, with a slope. */
const stripes: TilingMaterial = {
  name: 'stripes',
  width: 12,
  maps: {
    basecolor: pictureLevels({
      ...{ width: 16, height: 16, channels: 3 },
      data: Float32Array.from({ length: 16 * 16 * 3 }, (_, i) => (Math.floor(i / 3) % 16 < 8 ? 0.1 : 0.6)),
    }),
    roughness: greyLevels(16, 16, (x, y) => (x + y) / 30),
    normal: pictureLevels({
      ...{ width: 2, height: 2, channels: 3 },
      data: Float32Array.from({ length: 12 }, (_, i) => [0.6, 0, 0.8][i % 3]!),
    }),
  },
};
const channels: LayerChannel[] = ['basecolor', 'roughness', 'normal'];
const tiling: TilingPaint = {
  ...{ material: 0, channels, projection: { by: 'triplanar', sharpness: 6 }, scale: 1.5, turn: 20, offset: [3, 1] },
  ...{ varyBy: 'nothing', relief: 0.8 },
};
const ball = layeredMeshes([sphere('ball', 50, 32, 64)], 0, 1);
const onto = (z: number[][]): number[][] =>
  z.map(([x, y]) => [x!, y!, Math.sqrt(2500 - x! * x! - y! * y!), x! / 50, y! / 50, 1]);

describe('a tiling material as paint', () => {
  it('is where strokes cover it what a layer of it is, and lies still between strokes', async () => {
    const strokes = [
      stroke(onto(line([-20, -10], [20, 5])), { radius: 14, hardness: 1 }, { tiling }),
      stroke(onto(line([20, -10], [-20, 5])), { radius: 9, hardness: 0.2 }, { tiling }),
    ];
    const made = { materials: [stripes], strokes: namedStrokes(strokes) };
    const layer: Layer = { ...layerBase('whole'), ...tiling, content: 'tiling' };
    const metal = strokes.map((each) => ({ ...each, paint: { metallic: 1 } }));
    const painted = await composed([paintedLayer(strokes, channels)], channels, ball, 128, made);
    const whole = await composed([layer], channels, ball, 128, made);
    const cover = await composed([paintedLayer(metal, ['metallic'])], ['metallic'], ball, 128, {
      strokes: namedStrokes(metal),
    });
    const bare = await composed([], channels, ball, 128);
    let [covered, free] = [0, 0];
    for (let i = 0; i < 128 * 128; i++) {
      const share = cover.channels.metallic![i]!;
      if (painted.states[i] === 0 || (share !== 0 && share !== 1)) continue;
      const like = share === 1 ? whole : bare;
      if (share === 1) covered++;
      else free++;
      for (const channel of channels) {
        const width = channel === 'roughness' ? 1 : 3;
        for (let k = i * width; k < (i + 1) * width; k++) {
          expect(painted.channels[channel]![k]).toBeCloseTo(like.channels[channel]![k]!, 5);
        }
      }
    }
    expect(covered).toBeGreaterThan(200);
    expect(free).toBeGreaterThan(5000);
  });

  it('names a material that is gone, and the way out', async () => {
    const strokes = [stroke(onto(line([-20, -10], [20, 5])), { radius: 14 }, { tiling: { ...tiling, material: 3 } })];
    const made = { materials: [stripes], strokes: namedStrokes(strokes) };
    await expect(composed([paintedLayer(strokes, channels)], channels, ball, 64, made)).rejects.toThrow(
      'Material 4 of a layer is not there any more. Choose another, or remove the layer.',
    );
  });
});
