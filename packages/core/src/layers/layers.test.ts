import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { adjust } from '../adjust/adjust.ts';
import { srgbToLinear } from '../color/srgb.ts';
import { GLTF_NORMAL, type NormalSpace } from '../image/convention.ts';
import { preparedPicture } from './inputs/preparedInputs.ts';
import { blended } from '../image/blend.ts';
import { blendColor, COLOR_BLEND_MODES } from '../image/blendColor.ts';
import { halve } from '../image/filter/halve.ts';
import type { Image } from '../image/image.ts';
import type { Mesh } from '../mesh/mesh.ts';
import { triangleArea } from '../mesh/triangleArea.ts';
import { NO_INPUTS } from '../testing/layers.ts';
import { meshOf, randomNumbers, reliefPlane, sphere } from '../testing/shapes.ts';
import { layDetail } from './compose/blending.ts';
import { channelsOfStack, composeTile } from './compose/composeTile.ts';
import type { LayerChannel } from './channels.ts';
import { flatSurface, layeredMeshes, layeredTile, type LayeredSurface } from './surface/layeredSurface.ts';
import { mapOfChannel } from './compose/layeredMaps.ts';
import type { LayerInputs } from './inputs/layerInputs.ts';
import { onThisThread } from './compose/onThisThread.ts';
import { preparedMaterial } from './inputs/preparedInputs.ts';
import { PLAIN_SHAPING, type Layer, type LayerBase, type LayerContent, type MaskStep, type Stack } from './stack.ts';
import { TEXELS } from './surface/texelBlock.ts';

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
    inputs = NO_INPUTS,
    mixing = 'seen',
  }: { side?: number; inputs?: LayerInputs; mixing?: Stack['mixing'] } = {},
): Promise<Partial<Record<LayerChannel, Float32Array>> & { states: Uint8Array }> {
  const stack = { mixing, layers };
  const tile = layeredTile(surface, 1001, { width: side, height: side });
  const options = { doBlocks: onThisThread(tile, mixing) };
  const planes = await composeTile(stack, channelsOfStack(stack), { tile, inputs, options });
  return { ...planes.channels, states: planes.states };
}

/** A square of 100 mm that faces up the z axis. */
const square = layeredMeshes([reliefPlane('square', 2, 50)], 0, 1);
const ball = layeredMeshes([sphere('ball', 50, 64, 128)], 0, 1);

describe('blending', () => {
  it('lays values by the formulas of W3C Compositing and Blending', async () => {
    for (const mode of ['multiply', 'screen', 'soft-light', 'color-burn'] as const) {
      const layers = [plain({ roughness: 0.3 }), plain({ roughness: 0.8 }, { blend: mode, opacity: 0.6 })];
      const { roughness } = await composed(layers, square);
      expect(roughness![100]).toBeCloseTo(0.3 + (blended(mode, 0.3, 0.8) - 0.3) * 0.6, 5);
    }
  });

  it('mixes colours as they are seen, or as light', async () => {
    const layers = [plain({ basecolor: '#000000' }), plain({ basecolor: '#ffffff' }, { opacity: 0.5 })];
    const seen = await composed(layers, square);
    const light = await composed(layers, square, { mixing: 'light' });
    const asMap = (planes: typeof seen, mixing: Stack['mixing']): number =>
      mapOfChannel(
        { channels: planes, relief: null, states: planes.states },
        'basecolor',
        { width: 64, height: 64 },
        mixing,
      ).data[50]!;
    expect(asMap(seen, 'seen')).toBeCloseTo(srgbToLinear(0.5), 5);
    expect(asMap(light, 'light')).toBeCloseTo(0.5, 5);
  });

  it('goes by whole colours as section 10.2 of the specification says', () => {
    const luminosity = ([r, g, b]: Float64Array): number => 0.3 * r! + 0.59 * g! + 0.11 * b!;
    const color = fc.tuple(...[0, 1, 2].map(() => fc.double({ min: 0, max: 1, noNaN: true })));
    fc.assert(
      fc.property(color, color, fc.constantFrom(...COLOR_BLEND_MODES), (low, high, mode) => {
        const [below, above, out] = [Float64Array.from(low), Float64Array.from(high), new Float64Array(3)];
        blendColor(mode, below, above, out);
        // Every mode takes its luminosity from one of both, and stays within the range of colours.
        expect(luminosity(out)).toBeCloseTo(luminosity(mode === 'luminosity' ? above : below), 9);
        for (const value of out) expect(value).toBeGreaterThan(-1e-9);
        for (const value of out) expect(value).toBeLessThan(1 + 1e-9);
      }),
    );
  });

  it('turns detail as its base is turned: by the shortest rotation from z (Barré-Brisebois and Hill 2012)', () => {
    const random = randomNumbers(3);
    const direction = (): number[] => {
      const v = [random() - 0.5, random() - 0.5, 0.3 + random()];
      return v.map((x) => x / Math.hypot(...v));
    };
    for (let i = 0; i < 50; i++) {
      const [base, detail] = [direction(), direction()];
      const planes = (v: number[]): Float32Array => {
        const all = new Float32Array(TEXELS * 3);
        v.forEach((value, k) => (all[k * TEXELS] = value));
        return all;
      };
      const below = planes(base);
      layDetail(below, planes(detail), Float32Array.of(1), 1);
      // Rodrigues' formula about z × base.
      const [bx, by, bz] = base as [number, number, number];
      const axis = [-by, bx, 0];
      const sin = Math.hypot(...axis);
      const k = axis.map((x) => x / sin);
      const dot = k[0]! * detail[0]! + k[1]! * detail[1]!;
      const cross = [k[1]! * detail[2]!, -k[0]! * detail[2]!, k[0]! * detail[1]! - k[1]! * detail[0]!];
      for (let c = 0; c < 3; c++) {
        const turned = detail[c]! * bz + cross[c]! * sin + k[c]! * dot * (1 - bz);
        expect(below[c * TEXELS]).toBeCloseTo(turned, 5);
      }
    }
  });

  it('keeps a group between what was there and what it makes of it', async () => {
    const inner = [plain({ roughness: 0.9 }), plain({ roughness: 0.5 }, { blend: 'multiply' })];
    const { roughness } = await composed(
      [plain({ roughness: 0.1 }), layer({ content: 'group', layers: inner }, { opacity: 0.25 })],
      square,
    );
    expect(roughness![77]).toBeCloseTo(0.1 + (0.45 - 0.1) * 0.25, 6);
    // The same with something inside that needs whole planes.
    const soft = layer({ content: 'adjustment', channels: ['roughness'], steps: [{ do: 'blur', radius: 3 }] });
    const kept = await composed(
      [plain({ roughness: 0.1 }), layer({ content: 'group', layers: [...inner, soft] }, { opacity: 0.25 })],
      square,
    );
    expect(kept.roughness![77]).toBeCloseTo(0.1 + (0.45 - 0.1) * 0.25, 5);
  });
});

describe('heights and normals', () => {
  /** A sawtooth that rises to the right by a slope of 0.3, sunk so that its mean is 0; no normals of its own. */
  const ramp: Image = {
    width: 64,
    height: 1,
    channels: 1,
    data: Float32Array.from({ length: 64 }, (_, x) => ((x + 0.5) / 64) * 100 * 0.3),
    convention: { of: 'height', unit: 'mm', mid: 0, span: 1 },
    range: [0, 1],
  };

  it('turns heights into slopes in real lengths, whatever the UVs do', async () => {
    const steep = [-0.3, 0, 1].map((value) => value / Math.hypot(0.3, 1));
    for (const [across, up] of [
      [1, 1],
      [0.25, 0.8],
      [0.9, 0.3],
    ] as const) {
      const mesh = reliefPlane('stretched', 2, 50);
      mesh.uvSets[0]!.coords = mesh.uvSets[0]!.coords.map((value, i) => value * (i % 2 === 0 ? across : up));
      const surface = layeredMeshes([mesh], 0, 1);
      const inputs = { ...NO_INPUTS, materials: [preparedMaterial('ramp', 100, { height: ramp })] };
      const laid = layer({
        ...{ content: 'tiling', material: 0, channels: ['height'], scale: 1, turn: 0, offset: [-50, -50] },
        ...{ projection: { by: 'planar', direction: [0, 0, 1] }, varyBy: 'nothing', relief: 1 },
      });
      const { normal } = await composed([laid], surface, { side: 128, inputs });
      const at = ((128 - Math.round(128 * up * 0.5)) * 128 + Math.round(128 * across * 0.5)) * 3;
      for (let c = 0; c < 3; c++) expect(normal![at + c]).toBeCloseTo(steep[c]!, 2);
    }
  });

  it('does not turn heights of the image set’s own maps into slopes again', async () => {
    const side = 32;
    const height: Image = {
      width: side,
      height: side,
      channels: 1,
      data: new Float32Array(side * side).map((_, i) => i),
    };
    const normal: Image = {
      ...{ width: side, height: side, channels: 3 },
      data: new Float32Array(side * side * 3).map((_, i) => (i % 3 === 2 ? 1 : 0)),
    };
    const inputs = { ...NO_INPUTS, measured: { height, normal } };
    const layers = [layer({ content: 'maps', channels: ['height', 'normal'] }), plain({ height: 2 })];
    const made = await composed(layers, square, { side, inputs });
    expect(made.height![200]).toBe(202);
    expect([...made.normal!.slice(600, 603)]).toEqual([0, 0, 1]);
  });
});

describe('projections', () => {
  const data = Float32Array.from({ length: 16 * 16 }, randomNumbers(9));
  const material = preparedMaterial('noise', 40, { roughness: { width: 16, height: 16, channels: 1, data } });
  const tiling = (projection: object, change: object = {}): Layer =>
    layer({
      ...{ content: 'tiling', material: 0, channels: ['roughness'], scale: 1, turn: 0, offset: [0, 0] },
      ...{ projection: projection as never, varyBy: 'nothing', relief: 1, ...change },
    });
  const inputs = { ...NO_INPUTS, materials: [material] };

  it('agree on a plane: along all axes, along its own, and by UVs at its real size', async () => {
    const along = await composed([tiling({ by: 'planar', direction: [0, 0, 1] })], square, { inputs });
    const triplanar = await composed([tiling({ by: 'triplanar', sharpness: 4 })], square, { inputs });
    const byUvs = await composed([tiling({ by: 'uv' }, { offset: [50, 50] })], square, { inputs });
    for (let i = 0; i < 64 * 64; i++) {
      expect(triplanar.roughness![i]).toBeCloseTo(along.roughness![i]!, 5);
      expect(byUvs.roughness![i]).toBeCloseTo(along.roughness![i]!, 4);
    }
  });

  it('weigh planes so that a constant stays constant on any surface', async () => {
    const even = preparedMaterial('even', 40, {
      roughness: { width: 2, height: 2, channels: 1, data: new Float32Array(4).fill(0.7) },
    });
    const made = await composed([tiling({ by: 'triplanar', sharpness: 3 })], ball, {
      inputs: { ...NO_INPUTS, materials: [even] },
    });
    made.states.forEach((state, i) => {
      if (state > 1) expect(made.roughness![i]).toBeCloseTo(0.7, 4);
    });
  });

  it('close round a cylinder', async () => {
    const made = await composed([tiling({ by: 'cylinder', axis: [0, 0, 1] })], ball, { inputs, side: 256 });
    const step = (a: number, b: number): number => {
      let sum = 0;
      for (let y = 64; y < 192; y++) sum += Math.abs(made.roughness![y * 256 + a]! - made.roughness![y * 256 + b]!);
      return sum;
    };
    // The first and the last column of the map meet where the angle wraps round.
    expect(step(255, 0)).toBeLessThan(2 * step(100, 101));
  });

  it('take an image of normals as it is meant: Y up, whichever way it was written', () => {
    const written = (convention: Partial<NormalSpace>): Image => ({
      ...{ width: 1, height: 1, channels: 3, data: Float32Array.of(0.5, 0.25, 0.9) },
      convention: { of: 'direction', ...GLTF_NORMAL, ...convention },
    });
    expect([...preparedPicture(written({}), 'stamp')[0]!.data]).toEqual([0.5, 0.25, Math.fround(0.9)]);
    expect([...preparedPicture(written({ y: 'down' }), 'stamp')[0]!.data]).toEqual([0.5, 0.75, Math.fround(0.9)]);
    expect(() => preparedPicture(written({ space: 'object' }), 'stamp')).toThrow('object space');
  });

  it('lay a decal over the borders of a flat tile', async () => {
    const flat = flatSurface(64, 64);
    const data = Float32Array.from({ length: 8 * 8 }, (_, i) => ((i * 37) % 64) / 64);
    const decal = (x: number, y: number): Layer =>
      layer({
        ...{ content: 'picture', picture: 0, channels: ['roughness'], relief: 0 },
        place: {
          ...{ on: 'surface', center: [x, y, 0], normal: [0, 0, 1], up: [0, 1, 0] },
          ...{ width: 20, height: 30, depth: 10, angle: 80, falloff: 20 },
        },
      });
    const inputsHere = { ...NO_INPUTS, pictures: [[{ width: 8, height: 8, channels: 1, data }]] };
    const inMiddle = (await composed([decal(32, 32)], flat, { inputs: inputsHere })).roughness!;
    const { roughness } = await composed([decal(0, 64)], flat, { inputs: inputsHere });
    for (let at = 0; at < 64 * 64; at += 7) {
      const [x, y] = [(at + 32) % 64, (Math.floor(at / 64) + 32) % 64];
      expect(roughness![at]).toBeCloseTo(inMiddle[y * 64 + x]!, 4);
    }
  });

  it('repeat on a flat tile', async () => {
    const flat = flatSurface(100, 100);
    const field: Layer = layer({
      content: 'field',
      field: { noise: 'gradient-noise', size: 20, octaves: 3, style: 'smooth', levels: [0, 1], seed: 4 },
      ramp: null,
      values: { roughness: [0, 1] },
    });
    for (const each of [field, tiling({ by: 'uv' })]) {
      const { roughness } = await composed([each], flat, { inputs, side: 128 });
      const step = (a: number, b: number): number => {
        let sum = 0;
        for (let y = 0; y < 128; y++) sum += Math.abs(roughness![y * 128 + a]! - roughness![y * 128 + b]!);
        return sum;
      };
      expect(step(127, 0)).toBeLessThan(2 * step(63, 64) + 0.5);
    }
  });
});

describe('masks', () => {
  const mask = async (step: object, surface = square, side = 64, shaping = PLAIN_SHAPING, inputs = NO_INPUTS) =>
    (
      await composed([plain({ metallic: 0 }), plain({ metallic: 1 }, { mask: where(step, shaping) })], surface, {
        side,
        inputs,
      })
    ).metallic!;

  it('pick slots, parts, islands, objects and faces', async () => {
    const two: Mesh = { ...reliefPlane('two', 2, 50), slots: ['left', 'right'] };
    two.triangleSlots = Uint16Array.from({ length: 8 }, (_, t) => ((t >> 1) % 2 === 0 ? 0 : 1));
    const surface = layeredMeshes([two], 0, 1);
    const left = await mask({ measure: 'slot', slots: ['left'] }, surface);
    expect([left[10], left[60]]).toEqual([1, 0]);
    const faces = await mask({ measure: 'faces', ranges: [[0, 4]], of: 8 }, surface);
    expect([faces[0], faces[63 * 64]]).toEqual([0, 1]);
    for (const step of [
      { measure: 'part', triangles: [3] },
      { measure: 'island', triangles: [0] },
      { measure: 'object', objects: ['two'] },
      { measure: 'tile', tiles: [1001] },
    ])
      expect((await mask(step, surface)).every((value) => value === 1)).toBe(true);
    await expect(mask({ measure: 'faces', ranges: [[0, 4]], of: 12 }, surface)).rejects.toThrow(
      'had 12 triangles'.slice(4),
    );
  });

  it('go by the distance to a part in millimetres, over air', async () => {
    const low = reliefPlane('low', 2, 50);
    const high = reliefPlane('high', 2, 50);
    // Half as wide, 10 mm above, and in the other half of the layout.
    high.positions = high.positions.map((value, i) => (i % 3 === 2 ? value + 10 : value * 0.5));
    for (const [mesh, at] of [
      [low, 0],
      [high, 0.5],
    ] as const) {
      mesh.uvSets[0]!.coords = mesh.uvSets[0]!.coords.map((value, i) => (i % 2 === 0 ? value / 2 + at : value));
    }
    const surface = layeredMeshes([low, high], 0, 1);
    const near = await mask({ measure: 'near', triangles: [low.indices.length / 3], reach: 40 }, surface);
    const at = (x: number, y: number): number => near[y * 64 + x]!;
    // Right beneath it, 10 of 40 mm; at a corner it is 25 mm away along both axes too.
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
    const inputs = { ...NO_INPUTS, measured: { cavity: dot } };
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
    const worn = await mask(step, square, side, PLAIN_SHAPING, { ...NO_INPUTS, measured: { curvature, ao } });
    expect([worn[4], worn[12], worn[20], worn[28]]).toEqual([1, 0, 0, 0]);
    // Without occlusion there is none to be found, and the error says which map is missing.
    await expect(mask(step, square, side, PLAIN_SHAPING, { ...NO_INPUTS, measured: { curvature } })).rejects.toThrow(
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
        ...NO_INPUTS,
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
