import { afterAll, describe, expect, it } from 'vitest';
import { linearToSrgb } from '@zographos/core/color';
import { GLTF_NORMAL, meaningOf, TexelState, type Image, type MapKind, type NormalSpace } from '@zographos/core/image';
import { reliefPlane, sphere } from '@zographos/core/testing';
import { DEFAULT_LIMITS, readImageFile } from '@zographos/formats/images';
import { closeBakePool } from '../bake/bakeMaps.ts';
import { run as bake } from '../bake/run.ts';
import { bakeSettings, DEFAULT_BAKE } from '../bake/settings.ts';
import { materialOf } from '../merge/materialOf.ts';
import type { HeldMap, RunSet } from '../runContext.ts';
import { collect } from '../testing/collect.ts';
import type { Manifest } from './manifest.ts';
import { run as deliver } from './run.ts';
import { deliveryProfile, type DeliverSettings } from './settings.ts';

afterAll(closeBakePool);

/** A plane under a wavy source, baked at 32 px: its normals lean in every direction. */
async function baked(kind: MapKind, normal: NormalSpace, more: object = {}): Promise<HeldMap> {
  const receiver = reliefPlane(
    'plane',
    1,
    1,
    () => 0,
    () => [0, 0, 1],
  );
  const source = reliefPlane(
    'waves',
    24,
    1,
    (x, y) => 0.05 * Math.sin(7 * x + 1) * Math.cos(5 * y),
    (x, y) => {
      const slope = [
        0.35 * Math.cos(7 * x + 1) * Math.cos(5 * y),
        -0.25 * Math.sin(7 * x + 1) * Math.sin(5 * y),
      ] as const;
      const length = Math.hypot(slope[0], slope[1], 1);
      return [-slope[0] / length, -slope[1] / length, 1 / length];
    },
  );
  const settings = bakeSettings.parse({
    ...DEFAULT_BAKE,
    ...{ maps: [kind], normal, size: { width: 32, height: 32 }, samples: 1, padding: 0 },
    ...{ reach: { out: 0.1, in: 0.1 }, mend: false, ...more },
  });
  const inputs = { receivers: [{ hash: 'plane', mesh: receiver }], sources: [{ hash: 'waves', mesh: source }] };
  const { maps } = await collect(bake, { settings, inputs });
  return maps[0]!;
}

const setOf = (kind: MapKind, { image, states }: HeldMap, hasMesh = false): RunSet => ({
  ...{ name: 'quay', tileWidth: null, uvSet: 0, receivers: [], hasMesh },
  maps: [
    {
      kind,
      tile: 1001,
      revision: 1,
      width: image.width,
      height: image.height,
      channels: image.channels,
      range: [0, 1],
      colorSpace: 'linear',
      ...meaningOf(image),
    },
  ],
  madeBy: () => null,
  load: () => Promise.resolve({ image, states }),
  mesh: () => Promise.resolve(new Uint8Array()),
});

/** The one file of a delivery with exact floats, and what the manifest says of it. */
async function delivered(
  kind: MapKind,
  map: HeldMap,
  wishes: object,
): Promise<{ image: Image; entry: Manifest['files'][number] }> {
  const profile = deliveryProfile.parse({
    name: 'test',
    files: [{ map: kind, label: kind, format: 'exr' }],
    ...wishes,
  });
  const settings = { profile, sets: [] } as unknown as DeliverSettings;
  const { files } = await collect(deliver, {
    settings,
    inputs: { receivers: [], sources: [] },
    sets: [setOf(kind, map)],
  });
  const manifest = JSON.parse(new TextDecoder().decode(files.at(-1)!.bytes)) as Manifest;
  return {
    image: await readImageFile(manifest.files[0]!.path, files[0]!.bytes, DEFAULT_LIMITS),
    entry: manifest.files[0]!,
  };
}

/** The largest difference of the first three channels, texel by texel. */
function difference(a: Image, b: Image): number {
  let most = 0;
  for (let i = 0; i < a.width * a.height; i++) {
    for (let c = 0; c < 3; c++) {
      most = Math.max(most, Math.abs(a.data[i * a.channels + c]! - b.data[i * b.channels + c]!));
    }
  }
  return most;
}

/** EXR holds 32-bit floats; y of a normal is turned round as 1 − value, which rounds once. */
const EXACT = 1e-6;
const UP: NormalSpace = GLTF_NORMAL;
const DOWN: NormalSpace = { ...GLTF_NORMAL, y: 'down' };
const SWIZZLED: NormalSpace = { ...GLTF_NORMAL, axes: 'xzy' };
const OBJECT: NormalSpace = { space: 'object', y: 'up', axes: 'xyz' };

describe('normals are converted from what their map says', () => {
  it.each(['normal', 'bent'] as const)(
    '%s: a bake made in any tangent space is delivered as one made Y up',
    async (kind) => {
      const fewRays = { occlusion: { ...DEFAULT_BAKE.occlusion, rays: 4 } };
      const up = await baked(kind, UP, fewRays);
      // What is tested differs from what it is compared with.
      expect(difference((await baked(kind, DOWN, fewRays)).image, up.image)).toBeGreaterThan(0.1);
      for (const made of [UP, DOWN, SWIZZLED]) {
        const map = await baked(kind, made, fewRays);
        const asUp = await delivered(kind, map, { normalY: 'up' });
        expect(difference(asUp.image, up.image)).toBeLessThan(EXACT);
        expect(asUp.entry.conventions[kind]).toEqual({ of: 'direction', ...UP });
        const asDown = await delivered(kind, map, { normalY: 'down' });
        expect(difference(asDown.image, (await baked(kind, DOWN, fewRays)).image)).toBeLessThan(EXACT);
        expect(asDown.entry.conventions[kind]).toEqual({ of: 'direction', ...DOWN });
      }
    },
  );

  it('object space stays in object space, whatever Y is asked for, and says so', async () => {
    const map = await baked('normal', { ...OBJECT, axes: 'zxy' });
    for (const normalY of ['up', 'down']) {
      const { image, entry } = await delivered('normal', map, { normalY });
      expect(difference(image, (await baked('normal', OBJECT)).image)).toBeLessThan(EXACT);
      expect(entry.conventions.normal).toMatchObject({ space: 'object', axes: 'xyz' });
    }
  });

  it('a material of glTF holds what a bake made Y up holds, and refuses object space', async () => {
    const pictureOf = async (made: NormalSpace): Promise<Image> => {
      const { pictures } = await materialOf('quay', [{ kind: 'normal', image: (await baked('normal', made)).image }]);
      return readImageFile('normal.png', pictures[0]!.bytes, DEFAULT_LIMITS);
    };
    const up = await pictureOf(UP);
    expect((await pictureOf(SWIZZLED)).data).toEqual(up.data);
    // Eight bits: 1 − value may round to the neighbouring number.
    expect(difference(await pictureOf(DOWN), up)).toBeLessThanOrEqual(1 / 255 + EXACT);
    await expect(pictureOf(OBJECT)).rejects.toMatchObject({ code: 'input/other-convention' });
    const profile = deliveryProfile.parse({
      name: 'test',
      mesh: 'glb',
      files: [{ map: 'normal', label: 'n', format: 'png8' }],
    });
    const sets = [setOf('normal', await baked('normal', OBJECT), true)];
    const settings = { profile, sets: [] } as unknown as DeliverSettings;
    await expect(collect(deliver, { settings, inputs: { receivers: [], sources: [] }, sets })).rejects.toThrow(
      /object space.*tangent space/,
    );
  });
});

describe('the background of a delivery', () => {
  it('stands beyond the padding, in every file, whatever the maps have there', async () => {
    const side = 16;
    const states = new Uint8Array(side * side).fill(TexelState.covered).fill(TexelState.background, 0, side);
    const image: Image = { width: side, height: side, channels: 3, data: new Float32Array(side * side * 3).fill(0.25) };
    const map: HeldMap = { image: { ...image, colorSpace: 'srgb' }, states };
    const asked = await delivered('basecolor', map, { background: '#ff8000' });
    expect([...asked.image.data.slice(0, 3)].map((value) => Math.round(linearToSrgb(value) * 255))).toEqual([
      255, 128, 0,
    ]);
    expect(asked.image.data[side * asked.image.channels]).toBeCloseTo(0.25, 5);
    expect((await delivered('basecolor', map, {})).image.data[0]).toBeCloseTo(0.25, 5);
  });

  it('of a bake is that of its ticket, or of its tile', async () => {
    const whole = reliefPlane('plane', 1, 1);
    const half = { ...whole, uvSets: [{ name: 'half', coords: whole.uvSets[0]!.coords.map((value) => value / 2) }] };
    const inputs = { receivers: [{ hash: 'half', mesh: half }], sources: [{ hash: 'half', mesh: half }] };
    const cornerOf = async (more: object): Promise<number[]> => {
      const settings = bakeSettings.parse({
        ...DEFAULT_BAKE,
        ...{ maps: ['normal'], size: { width: 32, height: 32 }, samples: 1, padding: 2, aim: 'shared', ...more },
      });
      const { maps } = await collect(bake, { settings, inputs });
      // The upper right corner lies beyond the padding.
      return [...maps[0]!.image.data.slice(31 * 3, 32 * 3)].map((value) => Math.round(value * 255));
    };
    expect(await cornerOf({})).toEqual([128, 128, 255]);
    expect(await cornerOf({ background: '#102030' })).toEqual([16, 32, 48]);
    expect(await cornerOf({ background: '#102030', tileBackgrounds: { 1001: '#ffffff' } })).toEqual([255, 255, 255]);
  });
});

describe('heights say their unit, middle and span', () => {
  it('so that a file can be turned into mesh units again', async () => {
    const map = await baked('height', UP, { height: { mid: 0.5, span: 0.2 } });
    const { image, entry } = await delivered('height', map, {});
    const convention = entry.conventions.height;
    if (convention?.of !== 'height') throw new Error('The manifest says nothing of the heights.');
    expect(convention.unit).toBe('mesh');
    // The source's own surface above the texel in the middle of the ninth column and row.
    const at = (8 * 32 + 8) * image.channels;
    const [x, y] = [((8 + 0.5) / 32) * 2 - 1, 1 - ((8 + 0.5) / 32) * 2];
    const height = (image.data[at]! - convention.mid) * convention.span;
    expect(height).toBeCloseTo(0.05 * Math.sin(7 * x + 1) * Math.cos(5 * y), 2);
  });
});

it('a sphere’s object-space normals turn with the sphere', async () => {
  // A quarter turn about z takes x to y and y to −x; the map, stored by UV, changes by that alone.
  const ball = sphere('ball', 1, 12, 24);
  const turned = { ...ball, positions: quarterTurn(ball.positions), normals: quarterTurn(ball.normals) };
  const normalsOf = async (mesh: typeof ball): Promise<Image> => {
    const settings = bakeSettings.parse({
      ...DEFAULT_BAKE,
      ...{ maps: ['normal'], normal: OBJECT, size: { width: 32, height: 16 }, samples: 1, padding: 0 },
      ...{ reach: { out: 0.1, in: 0.1 }, mend: false },
    });
    const inputs = { receivers: [{ hash: mesh.name, mesh }], sources: [{ hash: `${mesh.name} source`, mesh }] };
    return (await collect(bake, { settings, inputs })).maps[0]!.image;
  };
  const [before, after] = [await normalsOf(ball), await normalsOf({ ...turned, name: 'turned' })];
  let most = 0;
  for (let i = 0; i < before.data.length; i += 3) {
    const [x, y, z] = [before.data[i]!, before.data[i + 1]!, before.data[i + 2]!];
    most = Math.max(
      most,
      Math.abs(after.data[i]! - (1 - y)),
      Math.abs(after.data[i + 1]! - x),
      Math.abs(after.data[i + 2]! - z),
    );
  }
  expect(most).toBeLessThan(1e-4);
});

function quarterTurn(vectors: Float32Array): Float32Array {
  const out = vectors.slice();
  for (let i = 0; i < out.length; i += 3) {
    out[i] = -vectors[i + 1]!;
    out[i + 1] = vectors[i]!;
  }
  return out;
}

describe('light', () => {
  const map: HeldMap = {
    image: { width: 2, height: 1, channels: 3, data: Float32Array.of(0.5, 2, 0.1, 8, 0, 0.25) },
    states: new Uint8Array(2).fill(TexelState.covered),
  };

  it('stays light in files of floats, and goes through the view transform of the profile into whole numbers', async () => {
    const light = { view: 'filmic', exposure: -1 };
    const floats = (await delivered('combined', map, { light })).image;
    expect(difference(floats, map.image)).toBe(0);
    const files = [{ map: 'combined', label: 'light', format: 'png16' }];
    const { image, entry } = await delivered('combined', map, { light, files });
    expect(entry.colorSpace).toBe('srgb');
    // Hejl and Burgess-Dawson 2010 give what stands on the screen.
    const screen = (value: number): number => {
      const x = Math.max(0, value / 2 - 0.004);
      return (x * (6.2 * x + 0.5)) / (x * (6.2 * x + 1.7) + 0.06);
    };
    expect(difference(image, { ...map.image, data: map.image.data.map(screen) })).toBeLessThan(0.001);
  });
});
