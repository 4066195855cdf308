import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { adjust } from '../adjust/adjust.ts';
import { srgbToLinear } from '../color/srgb.ts';
import { blended } from '../image/blend.ts';
import { blendColor, COLOR_BLEND_MODES } from '../image/blendColor.ts';
import { halve } from '../image/filter/halve.ts';
import type { Image } from '../image/image.ts';
import type { Mesh } from '../mesh/mesh.ts';
import { triangleArea } from '../mesh/triangleArea.ts';
import { meshOf, randomNumbers, reliefPlane, sphere } from '../testing/shapes.ts';
import { layDetail } from './blending.ts';
import { channelsOfStack, composeTile } from './composeTile.ts';
import type { LayerChannel } from './channels.ts';
import { flatSurface, layeredMeshes, layeredTile, type LayeredSurface } from './layeredSurface.ts';
import { mapOfChannel } from './layeredMaps.ts';
import type { LayerInputs } from './layerInputs.ts';
import { onThisThread } from './onThisThread.ts';
import { preparedMaterial } from './preparedInputs.ts';
import { PLAIN_SHAPING, type Layer, type LayerBase, type LayerContent, type MaskStep, type Stack } from './stack.ts';
import { TEXELS } from './texelBlock.ts';

const NOTHING: LayerInputs = {
  measured: {},
  materials: [],
  pictures: [],
  strokes: new Map(),
  planes: new Map(),
  processes: new Map(),
};
const everywhere = { steps: [], shaping: PLAIN_SHAPING };
let number = 0;

const layer = (content: LayerContent, change: Partial<LayerBase> = {}): Layer => ({
  ...{ id: `layer ${number++}`, name: 'layer', visible: true, opacity: 1, blend: 'normal', blends: {} },
  ...{ heightBlend: 'add', normalBlend: 'detail', mask: everywhere },
  ...change,
  ...content,
});
const plain = (values: Record<string, number | string>, change: Partial<LayerBase> = {}): Layer =>
  layer({ content: 'plain', values }, change);
const where = (step: object, shaping = PLAIN_SHAPING): LayerBase['mask'] => ({
  steps: [{ combine: 'multiply', invert: false, strength: 1, ...step } as MaskStep],
  shaping,
});

async function composed(
  layers: Layer[],
  surface: LayeredSurface,
  {
    side = 64,
    inputs = NOTHING,
    mixing = 'seen',
  }: { side?: number; inputs?: LayerInputs; mixing?: Stack['mixing'] } = {},
): Promise<Partial<Record<LayerChannel, Float32Array>> & { states: Uint8Array }> {
  const stack = { mixing, layers };
  const tile = layeredTile(surface, 1001, { width: side, height: side });
  const planes = await composeTile(stack, channelsOfStack(stack), tile, inputs, {
    doBlocks: onThisThread(tile, mixing),
  });
  return { ...planes.channels, states: planes.states };
}

/** A square of 100 mm that faces up the z axis. */
const square = layeredMeshes([reliefPlane('square', 2, 50)], 0, 1);
const ball = layeredMeshes([sphere('ball', 50, 64, 128)], 0, 1);

describe('blending', () => {
  it('lays values by the formulas of W3C Compositing and Blending', async () => {
    for (const mode of ['multiply', 'screen', 'soft-light', 'color-burn'] as const) {
      const layers = [plain({ roughness: 0.3 }), plain({ roughness: 0.8 }, { blend: mode, opacity: 0.6 })];
      const near = await mask({ measure: 'near', triangles: [upper], reach: 40 }, surface);
    const at = (x: number, y: number): number => near[y * 64 + x]!;
    // Right beneath it 10 of 40 mm are left over; at a corner it is 25 mm away along both axes too.
    expect(at(16, 32)).toBeCloseTo(1 - 10 / 40, 2);
    expect(at(0, 0)).toBeCloseTo(Math.max(0, 1 - Math.hypot(10, 24.2, 24.6) / 40), 1);
    expect(at(48, 32)).toBe(1);
  });

  it('go by the place along an axis in millimetres, whatever the unit of the mesh', async () => {
    const metres = layeredMeshes([reliefPlane('metres', 2, 0.05)], 0, 1000);
    for (const surface of [square, metres]) {
      const along = await mask({ measure: 'axis', axis: [1, 0, 0], from: -50, to: 50 }, surface);
      for (const x of [3, 20, 50]) expect(along[64 * 9 + x]).toBeCloseTo((x + 0.5) / 64, 4);
    }
  });

  it('go by direction: half of a sphere faces up', async () => {
    const side = 128;
    const up = await mask({ measure: 'facing', direction: [0, 0, 1], angle: 90, softness: 0 }, ball, side);
    // Rows of the map are rings of latitude.
    let share = 0;
    for (let y = 0; y < side; y++)
      share += (up[y * side + 64]! * Math.sin(((y + 0.5) / side) * Math.PI) * Math.PI) / 2 / side;
    expect(share).toBeCloseTo(0.5, 2);
  });

  it('grow and shrink by millimetres, and blur without losing any', async () => {
    const side = 256;
    const dot: Image = { width: side, height: side, channels: 1, data: new Float32Array(side * side) };
    const radius = 20;
    for (let i = 0; i < dot.data.length; i++) {
      const [x, y] = [((i % side) + 0.5) / side - 0.5, (Math.floor(i / side) + 0.5) / side - 0.5];
      dot.data[i] = Math.hypot(x, y) * 100 < radius ? 1 : 0;
    }
    const inputs = { ...NOTHING, measured: { cavity: dot } };
    const area = async (shaping: object): Promise<number> => {
      const values = await mask(
        { measure: 'map', map: 'cavity', from: 0, to: 1 },
        square,
        side,
        { ...PLAIN_SHAPING, ...shaping },
        inputs,
      );
      return (values.reduce((sum, value) => sum + value, 0) / side ** 2) * 100 ** 2;
    };
    expect(await area({})).toBeCloseTo(Math.PI * 400, -1.5);
    expect((await area({ grow: 10 })) / (Math.PI * 900)).toBeCloseTo(1, 1.7);
    expect((await area({ grow: -10 })) / (Math.PI * 100)).toBeCloseTo(1, 1.5);
    expect((await area({ blur: 3 })) / (Math.PI * 400)).toBeCloseTo(1, 2);
  });

  it('wear what is sharper than the radius, and only where it is convex and open', async () => {
    const side = 32;
    const plane = (value: (x: number) => number): Image => ({
      ...{ width: side, height: side, channels: 1 },
      data: Float32Array.from({ length: side * side }, (_, i) => value(i % side)),
    });
    // Edges rounded with radii of 0.5 mm and 8 mm, a hollow, and an edge that nothing gets at.
    const curvature = plane((x) => [1 / (2 * 0.5), 1 / (2 * 8), -1, 1][Math.floor(x / 8)]!);
    const ao = plane((x) => (x >= 24 ? 0 : 1));
    const step = { measure: 'wear', radius: 2, hardness: 0.8, sheltered: 1, breakup: null };
    const worn = await mask(step, square, side, PLAIN_SHAPING, { ...NOTHING, measured: { curvature, ao } });
    expect([worn[4], worn[12], worn[20], worn[28]]).toEqual([1, 0, 0, 0]);
    // Without occlusion there is none to be found, and the error says which map is missing.
    await expect(mask(step, square, side, PLAIN_SHAPING, { ...NOTHING, measured: { curvature } })).rejects.toThrow(
      'ambient occlusion map',
    );
  });

  it('settle dust as the sky is seen, on level ground alone', async () => {
    const side = 64;
    const sky: Image = { width: side, height: side, channels: 1, data: new Float32Array(side * side).fill(0.6) };
    const step = { measure: 'dust', amount: 0.5, angle: 40, softness: 0, blownOff: 0, breakup: null };
    const onBall = await mask(
      { ...step },
      layeredMeshes([turnedUp(sphere('ball', 50, 64, 128))], 0, 1),
      side,
      PLAIN_SHAPING,
      {
        ...NOTHING,
        measured: { sky },
      },
    );
    const ring = (degrees: number): number => onBall[Math.round((degrees / 180) * side) * side + 20]!;
    expect([ring(20), ring(60), ring(150)].map((value) => Number(value.toFixed(4)))).toEqual([0.6, 0, 0]);
  });

  it('end at a waterline', async () => {
    const step = { measure: 'waterline', axis: [0, 1, 0], level: 10, ragged: 0, raggedSize: 1, band: 20, seed: 0 };
    const below = await mask(step);
    const at = (y: number): number => below[Math.floor((0.5 - y / 100) * 64) * 64 + 5]!;
    expect(at(-20)).toBe(1);
    expect(at(20)).toBeCloseTo(0.5, 1);
    expect(at(40)).toBe(0);
    const ragged = await mask({ ...step, band: 0, ragged: 8, raggedSize: 15 });
    expect(ragged.some((value, i) => value > 0 && Math.floor(i / 64) < 24)).toBe(true);
  });
});

describe('adjustments', () => {
  it('change what lies beneath as they change a picture', async () => {
    const steps = [{ do: 'levels', black: 0.2, white: 0.9, gamma: 1.4 } as const, { do: 'invert' } as const];
    const layers = [plain({ basecolor: '#8844cc' }), layer({ content: 'adjustment', channels: ['basecolor'], steps })];
    const { basecolor } = await composed(layers, square);
    const shown: Image = {
      width: 1,
      height: 1,
      channels: 3,
      data: Float32Array.of(0x88 / 255, 0x44 / 255, 0xcc / 255),
    };
    adjust(shown, steps, 'clamp').data.forEach((value, k) => expect(basecolor![k]).toBeCloseTo(value, 5));
  });
});

describe('size', () => {
  it('does not change what is seen: 128 px are 512 px halved twice, to within the filter', async () => {
    const grain = {
      noise: 'simplex-noise',
      size: 30,
      octaves: 4,
      style: 'smooth',
      levels: [0.2, 0.8],
      seed: 2,
    } as const;
    const layers = [
      plain({ roughness: 0.2 }),
      plain({ roughness: 0.9 }, { mask: where({ measure: 'field', field: grain }) }),
      plain(
        { roughness: 0.4 },
        {
          mask: where(
            { measure: 'facing', direction: [1, 0, 0], angle: 50, softness: 30 },
            { ...PLAIN_SHAPING, blur: 4 },
          ),
        },
      ),
    ];
    const small = (await composed(layers, ball, { side: 128 })).roughness!;
    const large: Image = {
      width: 512,
      height: 512,
      channels: 1,
      data: (await composed(layers, ball, { side: 512 })).roughness!,
    };
    const halved = halve(halve(large)).data;
    let worst = 0;
    let sum = 0;
    // The rings at the poles, where a texel spans the whole sphere, are left out.
    for (let i = 128 * 8; i < 128 * 120; i++) {
      const off = Math.abs(halved[i]! - small[i]!);
      worst = Math.max(worst, off);
      sum += off / (128 * 112);
    }
    expect(sum).toBeLessThan(0.01);
    expect(worst).toBeLessThan(0.08);
  });

  it('leaves a texel of the layout its size in the world', () => {
    const tile = layeredTile(square, 1001, { width: 200, height: 200 });
    expect(tile.texel).toBeCloseTo(0.5, 5);
    const { positions, indices } = square.receiver;
    expect(triangleArea(positions, 3, indices, 0)).toBeCloseTo(1250, 3);
  });
});

/** The same mesh with its z axis up. */
function turnedUp(mesh: Mesh): Mesh {
  const turn = (values: Float32Array): Float32Array =>
    values.map((_, i, all) => {
      const at = i - (i % 3);
      return [all[at]!, all[at + 2]!, -all[at + 1]!][i % 3]!;
    });
  return meshOf(mesh.name, turn(mesh.positions), turn(mesh.normals), mesh.indices, mesh.uvSets[0]!.coords);
}
