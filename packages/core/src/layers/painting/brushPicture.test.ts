import { describe, expect, it } from 'vitest';
import { pictureLevels } from '../../bake/source/sourceMaterials.ts';
import { composed } from '../../testing/layers.ts';
import {
  atOnSquare,
  brushPicture,
  greyLevels,
  line,
  namedStrokes,
  painted,
  paintedLayer,
  plainSquare,
  square,
  stroke,
} from '../../testing/painting.ts';
import type { LayeredSurface } from '../surface/layeredSurface.ts';
import type { Brush, BrushPicture, Stroke } from './stroke.ts';

describe('a brush with a picture', () => {
  // White on its right half.
  const half = greyLevels(32, 32, (x) => (x >= 16 ? 1 : 0));
  const dab = (brush: Partial<BrushPicture>, more: Partial<Brush> = {}): Stroke =>
    stroke(line([0, 0], [0.5, 0.5], 2), { radius: 20, hardness: 1, spacing: 9, picture: brushPicture(brush), ...more });

  it('shapes dabs, turned with the brush and along the stroke, mirrored with its copies', async () => {
    const right = await painted([dab({})], plainSquare, 256, [half]);
    expect([atOnSquare(right, 10, 2), atOnSquare(right, -10, 2)]).toEqual([1, 0]);
    const turned = await painted([dab({ angle: 90 })], plainSquare, 256, [half]);
    expect([atOnSquare(turned, 2, 10), atOnSquare(turned, 2, -10)]).toEqual([1, 0]);
    // The picture's right goes ahead: upwards and to the right.
    const ahead = stroke(line([0, -30], [0, 30], 4), {
      radius: 20,
      hardness: 1,
      spacing: 9,
      picture: brushPicture({ turn: 'along' }),
    });
    const along = await painted([ahead], plainSquare, 256, [half]);
    expect([atOnSquare(along, 3, -40), atOnSquare(along, 3, -20), atOnSquare(along, 3, 40)]).toEqual([0, 1, 0]);
    const mirrored = await painted(
      [
        stroke([[20, 0, 0, 0, 0, 1]], {
          radius: 10,
          hardness: 1,
          picture: brushPicture(),
          symmetry: { by: 'mirror', axis: 0, at: 0 },
        }),
      ],
      plainSquare,
      256,
      [half],
    );
    expect([
      atOnSquare(mirrored, 24, 0),
      atOnSquare(mirrored, 16, 0),
      atOnSquare(mirrored, -24, 0),
      atOnSquare(mirrored, -16, 0),
    ]).toEqual([1, 0, 1, 0]);
  });

  // All of it leans 30° to the right of the picture.
  const [sin, cos] = [Math.sin(Math.PI / 6), Math.cos(Math.PI / 6)];
  const data = Float32Array.from({ length: 8 * 8 * 3 }, (_, i) => [0.5 + sin / 2, 0.5, 0.5 + cos / 2][i % 3]!);
  const normals = pictureLevels({ width: 8, height: 8, channels: 3, data });
  /** The normal in the middle of the square. */
  const leaning = async (brush: Partial<BrushPicture>, surface: LayeredSurface): Promise<number[]> => {
    const stamp = brushPicture({ ...brush, gives: 'normal' });
    const strokes = [stroke([[0, 0, 0, 0, 0, 1]], { radius: 30, hardness: 1, picture: stamp }, {})];
    const made = { pictures: [normals], strokes: namedStrokes(strokes) };
    const planes = await composed([paintedLayer(strokes, ['normal'])], ['normal'], surface, 64, made);
    const middle = (32 * 64 + 32) * 3;
    return [...planes.channels.normal!.subarray(middle, middle + 3)];
  };

  it('stamps normals that turn with the dab, whatever the layout is', async () => {
    const [right, up] = [await leaning({}, plainSquare), await leaning({ angle: 90 }, plainSquare)];
    for (const leans of [right, up]) {
      expect(leans[2]).toBeCloseTo(cos, 4);
      expect(Math.hypot(leans[0]!, leans[1]!)).toBeCloseTo(sin, 4);
    }
    // A quarter turn apart.
    expect(right[0]! * up[0]! + right[1]! * up[1]!).toBeCloseTo(0, 4);
    // With the layout turned by a quarter, the tangent frame is, and the lean stays where it was in space.
    const quarter = square((u, v) => [v, 1 - u]);
    const turned = await leaning({}, quarter);
    expect(Math.abs(turned[0]! * right[0]! + turned[1]! * right[1]!)).toBeLessThan(1e-4);
    expect(turned[2]).toBeCloseTo(cos, 4);
  });

  it('lays normals that are tiled or lie as a stencil the way the picture lies', async () => {
    // A view from above whose right is y of the object.
    const view = [0, 1 / 40, 0, 0.5, -1 / 40, 0, 0, 0.5, 0, 0, 0, 1];
    for (const surface of [plainSquare, square((u, v) => [v, 1 - u])]) {
      const [right, up] = [await leaning({}, surface), await leaning({ angle: 90 }, surface)];
      const [tiled, stencil] = [
        await leaning({ lies: 'surface' }, surface),
        await leaning({ lies: 'view', view }, surface),
      ];
      for (let k = 0; k < 3; k++) {
        expect(tiled[k]).toBeCloseTo(right[k]!, 4);
        expect(stencil[k]).toBeCloseTo(up[k]!, 4);
      }
    }
  });

  it('is tiled over the surface at its width, and fixed over the view as a stencil', async () => {
    const all: Partial<Brush> = { radius: 48, hardness: 1 };
    const tiled = await painted([dab({ lies: 'surface', width: 20 }, all)], plainSquare, 256, [half]);
    // Its period is its width in millimetres.
    for (const x of [-24, -8, 4, 12]) expect(atOnSquare(tiled, x, 1)).toBeCloseTo(atOnSquare(tiled, x + 20, 1), 1);
    expect(Math.abs(atOnSquare(tiled, 5, 1) - atOnSquare(tiled, 15, 1))).toBeCloseTo(1, 1);
    // The view: u = x / 40 + 1/2, v = y / 40 + 1/2.
    const view = [1 / 40, 0, 0, 0.5, 0, 1 / 40, 0, 0.5, 0, 0, 0, 1];
    const stencil = await painted([dab({ lies: 'view', view }, all)], plainSquare, 256, [half]);
    expect([atOnSquare(stencil, 10, 0), atOnSquare(stencil, -10, 0), atOnSquare(stencil, 30, 0)]).toEqual([1, 0, 0]);
  });
});
