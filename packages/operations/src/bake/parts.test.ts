import { afterAll, describe, expect, it } from 'vitest';
import type { ZographosError } from '@zographos/core/errors';
import { TexelState, type Image } from '@zographos/core/image';
import { smoothNormals, type Mesh } from '@zographos/core/mesh';
import { sphere } from '@zographos/core/testing';
import { bakeSettings, DEFAULT_BAKE, type BakeOperationSettings } from './settings.ts';
import { USUAL_ENDINGS } from '../ticket/matching.ts';
import type { EarlierBake, Region } from './blocks/reuse.ts';
import { bakeTicket, type TicketContext } from './bakeTicket.ts';
import { closeBakePool, type BakeResult } from './bakeMaps.ts';

afterAll(closeBakePool);

/** A square facing up over x0 … x0 + size at height z, its UVs over a square of the layout. */
function square(name: string, x0: number, size: number, z: number, uv: [u: number, v: number, side: number]): Mesh {
  const positions = Float32Array.of(x0, 0, z, x0 + size, 0, z, x0 + size, size, z, x0, size, z);
  const [u, v, side] = uv;
  const indices = Uint32Array.of(0, 1, 2, 0, 2, 3);
  return {
    name,
    positions,
    normals: smoothNormals(positions, indices),
    uvSets: [{ name: 'UV 1', coords: Float32Array.of(u, v, u + side, v, u + side, v + side, u, v + side) }],
    colors: null,
    indices,
    slots: ['default'],
    triangleSlots: new Uint16Array(2),
  };
}

const whole: [number, number, number] = [0, 0, 1];

/** A box whose six faces have normals of their own, each on a part of the layout. */
function boxOfSix(): Mesh {
  const faces = [0, 1, 2].flatMap((axis) => [-1, 1].map((side) => ({ axis, side })));
  const positions = faces.flatMap(({ axis, side }) =>
    [
      [-1, -1],
      [1, -1],
      [1, 1],
      [-1, 1],
    ].flatMap(([a, b]) => {
      const point = [0, 0, 0];
      point[axis] = side;
      point[(axis + 1) % 3] = a! * side;
      point[(axis + 2) % 3] = b!;
      return point;
    }),
  );
  const normals = faces.flatMap(({ axis, side }) =>
    [0, 1, 2, 3].flatMap(() => [0, 1, 2].map((k) => (k === axis ? side : 0))),
  );
  const coords = faces.flatMap((_, f) => {
    const [u, v, w] = [(f % 3) / 3 + 0.02, Math.floor(f / 3) / 2 + 0.02, 0.28];
    return [u, v, u + w, v, u + w, v + w, u, v + w];
  });
  return {
    ...square('box', 0, 1, 0, whole),
    positions: Float32Array.from(positions),
    normals: Float32Array.from(normals),
    uvSets: [{ name: 'UV 1', coords: Float32Array.from(coords) }],
    indices: Uint32Array.from(faces.flatMap((_, f) => [0, 1, 2, 0, 2, 3].map((c) => f * 4 + c))),
    triangleSlots: new Uint16Array(12),
  };
}

function bake(
  receivers: Mesh[],
  sources: Mesh[],
  settings: Partial<BakeOperationSettings> = {},
  earlier: EarlierBake | null = null,
  region: Region | null = null,
  mask: Image | null = null,
): Promise<BakeResult> {
  const named = (mesh: Mesh) => ({ hash: `${mesh.name} ${mesh.positions.join()}`.slice(0, 200), mesh });
  const context: TicketContext = {
    settings: bakeSettings.parse({
      ...DEFAULT_BAKE,
      maps: ['height'],
      size: { width: 64, height: 64 },
      samples: 1,
      padding: 0,
      reach: { out: 0.5, in: 0.5 },
      ...settings,
    }),
    inputs: { receivers: receivers.map(named), sources: sources.map(named) },
    earlier,
    region,
    mask,
    threads: 1,
    memoryLimitBytes: 8e9,
    cancelFlag: new Int32Array(new SharedArrayBuffer(4)),
    loadSeconds: 0,
    onProgress: () => {},
  };
  return bakeTicket(context);
}

const at = ({ maps }: BakeResult, x: number, y: number, map = 0): number =>
  maps[map]!.image.data[y * maps[map]!.image.width + x]!;
/** Numbers up to the rounding of single precision. */
const near = (values: number[]): unknown[] => values.map((value): unknown => expect.closeTo(value, 5));
const said = ({ report }: BakeResult): string => report.findings.map(({ sentence }) => sentence).join('\n');
const failure = (work: Promise<unknown>): Promise<ZographosError> =>
  work.then(
    () => {
      throw new Error('The bake should have failed.');
    },
    (error: unknown) => error as ZographosError,
  );

describe('parts matched by name', () => {
  const low = [square('cleat_low', 0, 1, 0, [0, 0, 0.5]), square('ring_low', 0, 1, 0, [0.5, 0.5, 0.5])];
  const high = [square('cleat_high', -1, 3, 0.1, whole), square('ring_high', -1, 3, 0.2, whole)];

  it('see their partner alone, though it lies behind another', async () => {
    const matched = await bake(low, high, { match: USUAL_ENDINGS });
    expect(at(matched, 10, 50)).toBeCloseTo(0.1, 5);
    expect(at(matched, 50, 10)).toBeCloseTo(0.2, 5);
    const mixed = await bake(low, high);
    expect(at(mixed, 10, 50)).toBeCloseTo(0.2, 5);
  });

  it('are occluded by their own sources, by all, or by those named', async () => {
    const lid = { ...square('ring_high', -1, 3, 0.3, whole) };
    lid.indices = lid.indices.toReversed();
    const sources = [high[0]!, lid, square('lid', -1, 3, 0.35, whole)];
    const maps: BakeOperationSettings['maps'] = ['ao'];
    const open = async (occluders: BakeOperationSettings['occlusion']['occluders']) =>
      at(
        await bake([low[0]!], sources, {
          maps,
          match: USUAL_ENDINGS,
          occlusion: { ...DEFAULT_BAKE.occlusion, occluders },
        }),
        10,
        50,
      );
    expect(await open('own')).toBe(1);
    expect(await open('all')).toBeLessThan(0.1);
    expect(await open(['lid'])).toBeLessThan(0.1);
    expect((await failure(open(['hood']))).message).toMatch(/named “hood”.*“cleat_high”/);
  });

  it('say who found no partner, and fail when nobody did', async () => {
    const result = await bake(
      [...low, square('pin_low', 5, 1, 0, [0.5, 0, 0.4])],
      [...high, square('rope', 0, 1, 0, whole)],
      {
        match: USUAL_ENDINGS,
      },
    );
    expect(said(result)).toMatch(/No source matches the name of “pin_low”.*\n.*“rope” is seen by no receiver/);
    expect(at(result, 50, 50)).toBe(0);
    expect((await failure(bake([low[0]!], [high[1]!], { match: USUAL_ENDINGS }))).code).toBe('input/no-partner');
  });

  it('may have a reach of their own', async () => {
    const result = await bake(low, high, { match: USUAL_ENDINGS, reachOf: { ring_low: { out: 0.15, in: 0.1 } } });
    expect(at(result, 10, 50)).toBeCloseTo(0.1, 5);
    expect(result.report.texels.missed).toBe(32 * 32);
    expect(result.report.findings.find(({ kind }) => kind === 'missed')!.places[0]!.part).toBe('ring_low');
  });

  it('number ten thousand', async () => {
    const many = Array.from({ length: 10_000 }, (_, i): [number, number] => [i % 100, Math.floor(i / 100)]);
    const small = (ending: string, z: number) =>
      many.map(([x, y], i) => square(`part ${i}x${ending}`, x, 0.5, z, [x / 100, y / 100, 0.006]));
    const result = await bake(small('_low', 0), small('_high', 0.25), {
      match: USUAL_ENDINGS,
      size: { width: 512, height: 512 },
    });
    expect(result.report.misses).toBe(0);
    expect(result.report.texels.covered).toBeGreaterThan(90_000);
    expect(
      result.maps[0]!.image.data.every(
        (value, i) => result.maps[0]!.states[i] !== TexelState.covered || Math.abs(value - 0.25) < 1e-5,
      ),
    ).toBe(true);
  });
});

describe('one changed part of ten', () => {
  const low = Array.from({ length: 10 }, (_, i) =>
    square(`part${i}x_low`, i * 2, 1, 0, [(i % 4) / 4, Math.floor(i / 4) / 4, 0.24]),
  );
  const high = (changed: number) =>
    low.map((_, i) => square(`part${i}x_high`, i * 2 - 1, 3, i === changed ? 0.3 : 0.1 + i * 0.01, whole));
  const settings = {
    match: USUAL_ENDINGS,
    maps: ['height', 'ao'] as BakeOperationSettings['maps'],
    size: { width: 256, height: 256 },
    padding: 4,
  };

  it('alone is baked again, to the same bytes as a whole new bake', async () => {
    const first = await bake(low, high(-1), settings);
    const earlier = {
      tiles: first.records,
      load: (kind: string) => Promise.resolve(first.maps.find((map) => map.kind === kind) ?? null),
    };
    const again = await bake(low, high(6), settings, earlier);
    const anew = await bake(low, high(6), settings);
    expect(again.maps.map(({ image }) => image.data)).toEqual(anew.maps.map(({ image }) => image.data));
    expect(again.maps[0]!.states).toEqual(anew.maps[0]!.states);
    const { takenOver, ...figures } = again.report;
    const part = anew.report.texels.covered / 10;
    // Blocks that the changed part shares with its neighbours are baked again with it.
    expect(takenOver).toBeGreaterThan(part * 6);
    expect(takenOver).toBeLessThan(part * 9.1);
    expect(anew.report.takenOver).toBe(0);
    for (const key of ['rays', 'texels', 'hitDistances', 'findings', 'noise'] as const)
      expect(figures[key]).toEqual(anew.report[key]);
    const same = await bake(low, high(6), settings, { ...earlier, tiles: again.records });
    expect(same.report.takenOver).toBe(same.report.texels.covered);
  });
});

describe('a rectangle of a tile', () => {
  it('is baked anew, and the rest stays as it was', async () => {
    const light = square('light', 0, 1, 0, whole);
    const before = await bake([light], [square('dense', -1, 3, 0.1, whole)], { size: { width: 128, height: 128 } });
    const earlier = { tiles: [], load: () => Promise.resolve(before.maps[0]!) };
    const region = { tile: 1001, x: 40, y: 70, width: 20, height: 20 };
    const source = [square('dense', -1, 3, 0.3, whole)];
    const after = await bake([light], source, { size: { width: 128, height: 128 } }, earlier, region);
    // Blocks of 32 texels are the grain.
    expect(after.report.texels.covered).toBe(32 * 32);
    expect([at(after, 10, 10), at(after, 50, 75), at(after, 100, 75)]).toEqual(near([0.1, 0.3, 0.1]));
    expect(after.maps[0]!.states.every((state) => state === TexelState.covered)).toBe(true);
    // A map of another size has nothing to keep: the rest is empty.
    const small = await bake([light], source, {}, earlier, { tile: 1001, x: 0, y: 0, width: 8, height: 8 });
    expect(small.maps[0]!.states.filter((state) => state === TexelState.covered)).toHaveLength(32 * 32);
  });
});

describe('UDIM tiles', () => {
  const two = [
    square('first', 0, 1, 0, [0, 0, 1]),
    square('second', 2, 1, 0, [1, 0, 1]),
    square('far', 4, 1, 0, [2, 3, 1]),
  ];
  const source = [square('dense', -1, 9, 0.1, whole), square('step', 2, 1, 0.3, whole)];

  it('are baked each to its own bakedTile, all of them or those named', async () => {
    const all = await bake(two, source, { tiles: 'all', tileSizes: { '1002': { width: 32, height: 16 } } });
    expect(all.maps.map(({ tile, image }) => [tile, image.width, image.height])).toEqual([
      [1001, 64, 64],
      [1002, 32, 16],
      [1033, 64, 64],
    ]);
    expect([0, 1, 2].map((map) => at(all, 5, 5, map))).toEqual(near([0.1, 0.3, 0.1]));
    const one = await bake(two, source, { tiles: [1002] });
    expect(one.maps.map(({ tile }) => tile)).toEqual([1002]);
    expect(said(one)).toMatch(/UVs outside the tile baked, in 1001, 1033/);
  });

  it('have numbers from 1001 to 2000', async () => {
    expect(() => bakeSettings.parse({ ...DEFAULT_BAKE, tiles: [999] })).toThrow(/1001 to 2000/);
    expect(() => bakeSettings.parse({ ...DEFAULT_BAKE, tiles: [2001] })).toThrow(/1001 to 2000/);
    expect((await failure(bake(two, source, { tiles: [1500] }))).code).toBe('input/outside-tile');
  });
});

describe('aiming', () => {
  const ball = (name: string, radius: number): Mesh => sphere(name, radius, 32, 64);

  it('fits the reach to each vertex: the far side of a source bent away needs no long rays elsewhere', async () => {
    const dense = ball('dense', 1.02);
    for (let i = 0; i < dense.positions.length; i += 3)
      if (dense.positions[i + 1]! > 0.8) dense.positions[i + 1]! += 0.1;
    const fitted = await bake([ball('light', 1)], [dense], { reach: 'fitted', size: { width: 128, height: 128 } });
    expect(fitted.report.misses).toBe(0);
    expect(fitted.report.reach.out).toBeGreaterThan(0.1);
    const shorter = fitted.report.reach.out * 0.6;
    expect(
      (await bake([ball('light', 1)], [dense], { reach: { out: shorter, in: 0.1 } })).report.texels.missed,
    ).toBeGreaterThan(0);
  });

  it('reaches farther where it was touched', async () => {
    const source = [square('dense', -1, 4, 0.4, whole)];
    const touched = { at: [0.5, 0.5, 0] as [number, number, number], radius: 3, out: 3, in: 1 };
    const reach = { out: 0.2, in: 0 };
    const plain = await bake([square('light', 0, 1, 0, whole)], source, { reach, backFaces: 'accept' }).catch(
      () => null,
    );
    expect(plain).toBeNull();
    expect((await bake([square('light', 0, 1, 0, whole)], source, { reach, touches: [touched] })).report.misses).toBe(
      0,
    );
  });

  it('goes to the nearest place without a ray, either way', async () => {
    const { maps, report } = await bake([ball('light', 1)], [ball('dense', 0.9)], {
      aim: 'nearest',
      maps: ['height', 'position'],
    });
    expect(report.misses).toBe(0);
    const { data } = maps[0]!.image;
    expect(data[32 * 64 + 32]).toBeCloseTo(-0.1, 2);
    const place = maps[1]!.image.data.subarray((32 * 64 + 20) * 3, (32 * 64 + 20) * 3 + 3);
    expect(Math.hypot(...place)).toBeCloseTo(0.9, 2);
    expect(
      (await bake([ball('light', 1)], [ball('dense', 1.1)], { aim: 'nearest' })).maps[0]!.image.data[32 * 64 + 32],
    ).toBeCloseTo(0.1, 2);
  });

  it('takes back faces as if they were turned over, where asked to', async () => {
    const inverted = square('inverted', -1, 3, 0.1, whole);
    inverted.indices = inverted.indices.toReversed();
    inverted.normals = inverted.normals.map((value) => -value);
    const light = square('light', 0, 1, 0, whole);
    const flipped = await bake([light], [inverted], { maps: ['normal'], backFaces: 'flip' });
    expect([...flipped.maps[0]!.image.data.subarray(0, 3)]).toEqual(near([0.5, 0.5, 1]));
    const accepted = await bake([light], [inverted], { maps: ['normal'], backFaces: 'accept' });
    expect(accepted.maps[0]!.image.data[2]).toBeCloseTo(0, 5);
    expect(accepted.report.findings.map(({ kind }) => kind)).toEqual(expect.arrayContaining(['behind', 'backward']));
    expect((await failure(bake([light], [inverted]))).code).toBe('run/nothing-hit');
  });

  it('bakes a mesh from itself', async () => {
    const { report, maps } = await bake([ball('light', 1)], [ball('light', 1)], {
      maps: ['height', 'ao'],
      reach: { out: 0.1, in: 0.1 },
    });
    expect(report.misses).toBe(0);
    expect(Math.max(...maps[0]!.image.data.map(Math.abs))).toBeLessThan(1e-4);
    expect(maps[1]!.image.data[32 * 64 + 32]).toBeCloseTo(1, 2);
  });

  it('keeps rays upright on flat faces and smooth at hard edges only, when blended', async () => {
    // A box lid: its rim's smooth normals lean by 45°, which skews what lies in the middle of the face.
    const lid = square('lid', 0, 1, 0, whole);
    const side = { ...square('side', 0, 1, 0, [2, 2, 0.5]) };
    side.positions = Float32Array.of(0, 0, -1, 0, 1, -1, 0, 1, 0, 0, 0, 0).map((v) => v);
    side.indices = Uint32Array.of(0, 2, 1, 0, 3, 2);
    side.normals = Float32Array.from({ length: 12 }, (_, i) => (i % 3 === 0 ? -1 : 0));
    const { joinMeshes } = await import('@zographos/core/mesh');
    const box = joinMeshes('box', [lid, side]);
    const source = square('dense', -3, 7, 0.2, whole);
    const x = async (direction: BakeOperationSettings['direction']) => {
      const result = await bake([box], [source], { maps: ['position'], direction, blendWidth: 0.2 });
      return result.maps[0]!.image.data[(32 * 64 + 32) * 3]!;
    };
    const middle = 32.5 / 64;
    expect(Math.abs((await x('smooth')) - middle)).toBeGreaterThan(0.02);
    expect(await x('split')).toBeCloseTo(middle, 5);
    expect(await x('blend')).toBeCloseTo(middle, 5);
    const mask = { width: 2, height: 1, channels: 1, data: Float32Array.of(0, 1) };
    const painted = await bake([box], [source], { maps: ['position'], direction: 'blend' }, null, null, mask);
    // White on the right half of the layout, black on the left.
    expect(painted.maps[0]!.image.data[(32 * 64 + 60) * 3]!).toBeCloseTo(60.5 / 64, 5);
    expect(Math.abs(painted.maps[0]!.image.data[(32 * 64 + 4) * 3]! - 4.5 / 64)).toBeGreaterThan(0.02);
  });
});

describe('bakedTiles', () => {
  it('baked larger and halved are the mean of what they cover', async () => {
    const slope = square('slope', 0, 1, 0, whole);
    slope.positions[5] = slope.positions[8] = 0.2;
    slope.normals = smoothNormals(slope.positions, slope.indices);
    const light = square('light', 0, 1, 0, whole);
    const plain = await bake([light], [slope], { samples: 2 });
    const halved = await bake([light], [slope], { oversize: 2 });
    expect(halved.maps[0]!.image.width).toBe(64);
    for (let x = 1; x < 63; x += 7) expect(at(halved, x, 20)).toBeCloseTo(at(plain, x, 20), 5);
    const four = await bake([light], [slope], { oversize: 4, maps: ['normal'] });
    const n = four.maps[0]!.image.data.subarray(3000, 3003).map((value) => value * 2 - 1);
    expect(Math.hypot(...n)).toBeCloseTo(1, 5);
  });

  it('have their noise smoothed within islands only', async () => {
    const light = [square('a_low', 0, 1, 0, [0, 0, 0.5]), square('b_low', 0, 1, 0, [0.5, 0, 0.5])];
    const lid = square('b_high', -1, 3, 0.5, whole);
    lid.indices = lid.indices.toReversed();
    const floor = (name: string) => square(name, -9, 19, 0.1, whole);
    const occlusion = { ...DEFAULT_BAKE.occlusion, rays: 16 };
    const roughly = { maps: ['ao'] as BakeOperationSettings['maps'], match: USUAL_ENDINGS };
    const sources = [floor('a_high'), floor('b_high.001'), lid];
    const rough = await bake(light, sources, { ...roughly, occlusion });
    const smooth = await bake(light, sources, { ...roughly, occlusion: { ...occlusion, smooth: 4 } });
    // Noise is what jumps from one texel to the next.
    const jumps = (result: BakeResult, x: number): number =>
      Array.from({ length: 20 }, (_, i) => Math.abs(at(result, x, 40 + i) - at(result, x, 41 + i))).reduce(
        (a, b) => a + b,
      );
    expect(rough.report.noise).toBeGreaterThan(0.02);
    expect(jumps(smooth, 48)).toBeLessThan(jumps(rough, 48) / 3);
    // The open island beside it keeps its white to the last bit.
    expect(at(smooth, 31, 50)).toBe(1);
  });
});

describe('proof', () => {
  it('finds layers that rays began in, or caught before a nearer one', async () => {
    const light = square('light', 0, 1, 0, whole);
    const slab = (name: string, from: number, to: number): Mesh[] => {
      const under = square(`${name} under`, -1, 3, from, whole);
      under.indices = under.indices.toReversed();
      return [square(name, -1, 3, to, whole), under];
    };
    const outer = await bake([light], [...slab('roof', 0.3, 0.35), ...slab('floor', -0.2, 0)]);
    expect(outer.report.findings.find(({ kind }) => kind === 'outerLayer')?.places[0]).toMatchObject({
      tile: 1001,
      part: 'light',
    });
    const inside = await bake([light], [...slab('roof', 0.3, 0.35), ...slab('floor', -0.2, 0)], {
      reach: { out: 0.32, in: 0.1 },
    });
    expect(inside.report.findings.map(({ kind }) => kind)).toContain('inside');
    const clean = await bake([light], slab('floor', -0.2, 0));
    expect(clean.report.findings).toEqual([]);
  });

  it('says where the padding of islands meets, and where that is mended', async () => {
    const islands = [square('a', 0, 1, 0, [0, 0, 0.45]), square('b', 0, 1, 0, [0.5, 0, 0.45])];
    const source = [square('dense', -1, 3, 0.1, whole)];
    const collisionOf = async (padding: number) =>
      (await bake(islands, source, { padding })).report.findings.find(({ kind }) => kind === 'collision');
    // 0.05 of 64 texels lie between both: room for one texel of padding each, and one between them.
    const found = (await collisionOf(4))!;
    expect(found.places[0]).toMatchObject({ tile: 1001 });
    expect(found.remedy!.room).toBe('uv');
    expect(await collisionOf(1)).toBeUndefined();
  });

  it('offers a remedy that is a change to the ticket', async () => {
    const source = square('dense', -1, 3, 0.4, whole);
    source.positions[2] = 0.1;
    const missed = (await bake([square('light', 0, 1, 0, whole)], [source], { reach: { out: 0.25, in: 0 } })).report
      .findings;
    const { change } = missed.find(({ kind }) => kind === 'missed')!.remedy!;
    expect((await bake([square('light', 0, 1, 0, whole)], [source], change)).report.texels.missed).toBe(0);
  });

  it('tells a reach that is too short from a place without source', async () => {
    const light = square('light', 0, 1, 0, whole);
    // Beyond the reach but within twice of it on the left, within it in the middle, and nothing on the right.
    const over = (name: string, x0: number, x1: number, z: number): Mesh => ({
      ...square(name, 0, 1, z, whole),
      positions: Float32Array.of(x0, -1, z, x1, -1, z, x1, 2, z, x0, 2, z),
    });
    const near = over('near', 0.3, 0.6, 0.1);
    const kinds = async (sources: Mesh[]) =>
      (await bake([light], sources, { reach: { out: 0.25, in: 0 } })).report.findings.map(({ kind }) => kind);
    expect(await kinds([over('far', -1, 0.3, 0.4), near])).toEqual(expect.arrayContaining(['missed', 'open']));
    expect(await kinds([near])).toContain('open');
    expect(await kinds([near])).not.toContain('missed');
  });

  it('finds nothing wrong with a mesh that is baked from itself', async () => {
    const ball = sphere('ball', 1, 12, 24);
    // Faces with normals of their own, along which rays do not go: they are averaged over the hard edges.
    const corner = boxOfSix();
    for (const mesh of [ball, corner]) {
      for (const aim of ['rays', 'shared'] as const) {
        const { report } = await bake([mesh], [mesh], { maps: ['normal'], aim, reach: { out: 0.05, in: 0.05 } });
        expect(
          report.findings.map(({ kind }) => kind).filter((kind) => kind !== 'overlapping'),
          `${mesh.name}, ${aim}`,
        ).toEqual([]);
        expect(report.aim).toBe(aim);
      }
    }
  });

  it('compares a plane with its source from its front alone', async () => {
    const { report } = await bake([square('light', 0, 1, 0, whole)], [square('dense', 0, 1, 0.01, whole)], {
      maps: ['normal'],
    });
    expect(report.likeness.length).toBeGreaterThan(0);
    // Facing z: none of the views from below it.
    for (const { from, ssim } of report.likeness) {
      expect(from[2]).toBeGreaterThan(0);
      expect(ssim).toBeGreaterThan(0.7);
    }
  });

  it('estimates occlusion noise that four times the rays halve at least', async () => {
    const light = square('light', 0, 1, 0, whole);
    const wall = square('dense', 0.5, 1, 0, whole);
    wall.positions = Float32Array.of(0.5, -1, 0, 0.5, 2, 0, 0.5, 2, 2, 0.5, -1, 2);
    const noise = async (rays: number) =>
      (
        await bake([light], [square('floor', -1, 3, 0, whole), wall], {
          maps: ['ao'],
          backFaces: 'accept',
          reach: { out: 0, in: 0.1 },
          occlusion: { ...DEFAULT_BAKE.occlusion, rays },
        })
      ).report.noise!;
    const [few, many] = [await noise(16), await noise(64)];
    expect(few).toBeGreaterThan(0.01);
    expect(many).toBeLessThan(few * 0.55);
  });

  it('sees how alike source and receiver are', async () => {
    const bumpy = sphere('dense', 1, 96, 192);
    for (let i = 0; i < bumpy.positions.length; i += 3) {
      const [x, y, z] = [0, 1, 2].map((k) => bumpy.positions[i + k]!) as [number, number, number];
      const stretch = 1 + 0.01 * Math.sin(14 * x) * Math.sin(14 * y) * Math.sin(14 * z);
      for (let k = 0; k < 3; k++) bumpy.positions[i + k]! *= stretch;
    }
    bumpy.normals = smoothNormals(bumpy.positions, bumpy.indices);
    const light = sphere('light', 1, 48, 96);
    const settings = {
      maps: ['normal'] as BakeOperationSettings['maps'],
      size: { width: 256, height: 256 },
      padding: 'all' as const,
    };
    const dressed = (await bake([light], [bumpy], settings)).report.likeness;
    const naked = (await bake([light], [light], settings)).proof.likeness;
    expect(dressed).toHaveLength(6);
    for (const { ssim } of dressed) expect(ssim).toBeGreaterThan(0.9);
    for (const { ssim } of naked) expect(ssim).toBeGreaterThan(0.97);
  });
});

describe('inputs that do not go together', () => {
  it('are named: the wrong way round, and of another scale', async () => {
    const heavy = sphere('heavy', 1, 40, 80);
    const swapped = await bake([heavy], [sphere('little', 1, 8, 16)]);
    expect(said(swapped)).toMatch(/“heavy” \(receiver\) has 6 240 triangles, “little” \(source\) only \d+.*swapped/);
    const large = sphere('large', 1000, 16, 32);
    const { code, message } = await failure(bake([sphere('light', 1, 16, 32)], [large]));
    expect(code).toBe('input/scale');
    expect(message).toMatch(/1000 times as large.*millimetres.*metres.*Scale the source by 0\.001/);
    const brought = await bake([sphere('light', 1, 16, 32)], [large], { sourceScale: 0.001 });
    expect(brought.report.misses).toBe(0);
    expect(said(brought)).not.toMatch(/seems to be in/);
  });

  it('come with a change to the ticket that mends them', async () => {
    const heavy = sphere('heavy', 1, 40, 80);
    const { report } = await bake([heavy], [sphere('little', 1, 8, 16)]);
    expect(report.findings.find(({ kind }) => kind === 'swapped')?.remedy).toMatchObject({ exchange: true });
    const far = await bake([sphere('light', 1, 16, 32)], [sphere('large', 10, 16, 32)], { reach: { out: 20, in: 20 } });
    expect(far.report.findings.find(({ kind }) => kind === 'scale')?.remedy?.change).toEqual({ sourceScale: 0.1 });
  });
});
