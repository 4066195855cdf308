import { createHash } from 'node:crypto';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { BLEND_MODES, type Image, type MapKind } from '@zographos/core/image';
import { reliefPlane } from '@zographos/core/testing';
import { operationOf, parseSettings } from '../registry.ts';
import type { RunContext, RunPicture } from '../runContext.ts';
import { hashedMesh } from '../scene/runMesh.ts';
import { layerSentence } from './layerSentence.ts';
import { run } from './run.ts';
import type { LayersSettings } from './settings.ts';
import { COATINGS } from './coatings.ts';
import { EXAMPLE_STACK, parseStackFile } from './stackFile.ts';

const plane = hashedMesh(reliefPlane('plane', 4, 50));

async function made(
  settings: object,
  { pictures = [] as RunPicture[], receivers = [plane], threads = 1, limit = 4e9 } = {},
) {
  const maps = new Map<string, Image>();
  const context: RunContext<LayersSettings> = {
    settings: parseSettings('layers', { size: { width: 64, height: 64 }, ...settings }),
    inputs: { receivers, sources: [] },
    pictures,
    ...{ threads, memoryLimitBytes: limit, cancelFlag: new Int32Array(new SharedArrayBuffer(4)), onProgress: () => {} },
    put: (thing) => {
      if (thing.what === 'map') maps.set(`${thing.kind} ${thing.tile}`, thing.image);
      return Promise.resolve();
    },
  };
  const { report } = await run(context);
  return { maps, report, of: (kind: MapKind, tile = 1001): Image => maps.get(`${kind} ${tile}`)! };
}

const held = (image: Image): RunPicture => ({ hash: '', name: 'picture', bytes: new Uint8Array(0), image });
const noise = (channels: number, side = 64, seed = 1): Image => ({
  ...{ width: side, height: side, channels },
  data: Float32Array.from({ length: side * side * channels }, (_, i) => ((i * 2654435761 * seed) % 1000) / 1000),
});
const picture = (id: string, number: number, more: object = {}): object => ({
  ...{ id, name: id, content: 'picture', picture: number, channels: ['basecolor'] },
  ...more,
});

describe('a stack of layers', () => {
  it.each(BLEND_MODES)('blends pictures by %s as sharp does', async (mode) => {
    const names = { normal: 'over', 'color-dodge': 'colour-dodge', 'color-burn': 'colour-burn' } as Record<
      string,
      string
    >;
    const bytes = (seed: number): Buffer =>
      Buffer.from(Uint8Array.from({ length: 64 * 64 * 3 }, (_, i) => (i * 31 * seed + ((i * 7919) >> 3)) % 256));
    const raw = { width: 64, height: 64, channels: 3 } as const;
    const [below, above] = [bytes(3), bytes(5)];
    const mixed = await sharp(below, { raw })
      .composite([{ input: above, raw, blend: (names[mode] ?? mode) as 'multiply' }])
      .removeAlpha()
      .raw()
      .toBuffer();
    // Values as they are: of a colour that mixes as it is seen, what is stored is what is seen.
    const seen = (from: Buffer): RunPicture =>
      held({ ...raw, data: Float32Array.from(from, (value) => linear(value / 255)), colorSpace: 'srgb' });
    const layers = [picture('below', 0), picture('above', 1, { blend: mode })];
    const { of } = await made({ layers }, { pictures: [seen(below), seen(above)] });
    let worst = 0;
    of('basecolor').data.forEach((value, i) => (worst = Math.max(worst, Math.abs(screen(value) * 255 - mixed[i]!))));
    // sharp works in eight bits, and rounds between the steps of soft light and the two that divide.
    expect(worst).toBeLessThan(['soft-light', 'color-dodge', 'color-burn'].includes(mode) ? 2.5 : 1.01);
  });

  it('gives the same bytes for any number of threads, with everything in it', async () => {
    const example = parseStackFile('example.json', JSON.stringify(EXAMPLE_STACK));
    const measured = ['curvature', 'ao', 'sky'].map((kind, i) => ({ kind, tile: 1001, picture: i }));
    const tiling = { id: 't', name: 't', content: 'tiling', material: 0, channels: ['roughness', 'normal'] };
    const soft = { shaping: { blur: 2, grow: 3 }, steps: [{ measure: 'facing', direction: [0, 0, 1], angle: 20 }] };
    const layers = [
      ...example.layers,
      { id: 'g', name: 'g', content: 'group', mask: soft, layers: [tiling], opacity: 0.5 },
      { id: 'b', name: 'b', content: 'adjustment', channels: ['basecolor'], steps: [{ do: 'blur', radius: 2 }] },
    ];
    const materials = [{ name: 'm', width: 30, maps: { roughness: 3, normal: 4 } }];
    const pictures = [1, 1, 1, 1, 3].map((channels, i) => held(noise(channels, 64, i + 1)));
    const hash = async (threads: number): Promise<string> => {
      const { maps } = await made({ layers, measured, materials, oversize: 2 }, { pictures, threads });
      const all = createHash('sha256');
      for (const [name, { data }] of maps) all.update(name).update(new Uint8Array(data.buffer));
      return all.digest('hex');
    };
    expect(await hash(1)).toBe(await hash(3));
  });

  it('fills UDIM tiles, whose heights have one range', async () => {
    const second = reliefPlane('second', 2, 50);
    second.uvSets[0]!.coords = second.uvSets[0]!.coords.map((value, i) => (i % 2 === 0 ? value + 1 : value));
    const raised = (tile: number, height: number): object => ({
      ...{ id: `${tile}`, name: 'raised', content: 'plain', values: { height } },
      mask: { steps: [{ measure: 'tile', tiles: [tile] }] },
    });
    const { of, maps } = await made(
      { tiles: 'all', layers: [raised(1001, 1), raised(1002, -4)] },
      { receivers: [plane, hashedMesh(second)] },
    );
    expect(maps.size).toBe(4);
    for (const tile of [1001, 1002]) expect(of('height', tile).convention).toMatchObject({ unit: 'mm', span: 8 });
    expect([of('height', 1001).data[99], of('height', 1002).data[99]]).toEqual([1, -4]);
  });

  it('writes masks of its own, whatever its colours do, and says whose they are', async () => {
    const half = { steps: [{ measure: 'axis', axis: [1, 0, 0], from: 0, to: 0.001 }] };
    const layers = [
      {
        ...{ id: 'r', name: 'Rust', content: 'plain', blend: 'multiply', opacity: 0.5, mask: half },
        values: { basecolor: '#804020', maskred: 1 },
      },
      { id: 's', name: 'Sand', content: 'tiling', material: 0, channels: ['basecolor', 'maskgreen'], mask: half },
    ];
    const settings = { layers, materials: [{ name: 'm', width: 30, maps: { basecolor: 0 } }] };
    const { of, maps } = await made(settings, { pictures: [held({ ...noise(3), colorSpace: 'srgb' })] });
    expect([...maps.keys()].sort()).toEqual(['basecolor 1001', 'maskgreen 1001', 'maskred 1001']);
    const row = (kind: MapKind): number[] => [5, 60].map((x) => of(kind).data[32 * 64 + x]!);
    expect([row('maskred'), row('maskgreen')]).toEqual([
      [0, 0.5],
      [0, 1],
    ]);
    const parsed = parseSettings('layers', { size: { width: 64, height: 64 }, ...settings });
    const said = operationOf('layers').sentence(parsed, { receivers: ['Plane'], sources: [] }, 'mm');
    expect(said.map(({ text }) => text).join('')).toContain('with red mask of “Rust” and green mask of “Sand”.');
  });

  it('lies on a flat tile that repeats', async () => {
    const layers = [{ id: 'f', name: 'f', content: 'field', field: { size: 30 }, values: { height: [0, 2] } }];
    const { of, report } = await made({ layers, tileWidth: 200 }, { receivers: [] });
    expect(report.layout).toBeNull();
    const { data } = of('height');
    const step = (a: number, b: number): number => Math.abs(data[a]! - data[b]!);
    let [seam, inner] = [0, 0];
    for (let y = 0; y < 64; y++) {
      seam += step(y * 64 + 63, y * 64);
      inner += step(y * 64 + 31, y * 64 + 32);
    }
    expect(seam).toBeLessThan(inner * 2);
  });

  it('refuses what it cannot do, with the way out', async () => {
    const plain = { id: 'a', name: 'a', content: 'plain', values: { roughness: 0.5 } };
    await expect(made({ layers: [] })).rejects.toThrow('Add a layer');
    await expect(made({ layers: [picture('p', 3)] })).rejects.toThrow('Image 4 of the stack is not there');
    await expect(made({ layers: [plain, plain] })).rejects.toThrow('same id');
    await expect(made({ layers: [plain], size: { width: 16384, height: 16384 } }, { limit: 1e9 })).rejects.toThrow(
      'limit is 1.0 GB',
    );
    const many = Array.from({ length: 501 }, (_, i) => ({ ...plain, id: `${i}` }));
    await expect(made({ layers: many })).rejects.toThrow(/at most 500/);
    const wear = { ...plain, mask: { steps: [{ measure: 'wear' }] } };
    await expect(made({ layers: [wear] })).rejects.toThrow('no curvature map');
    expect((await made({ layers: Array.from({ length: 500 }, (_, i) => ({ ...plain, id: `${i}` })) })).maps.size).toBe(
      1,
    );
  });

  it.each(COATINGS)('$name lies on whatever has been measured, and nowhere as a single colour', async ({ layers }) => {
    const measured = ['curvature', 'ao', 'sky'].map((kind, i) => ({ kind, tile: 1001, picture: i }));
    const pictures = [1, 2, 3].map((seed) => held(noise(1, 64, seed)));
    const { of } = await made({ layers, measured }, { pictures });
    const tones = new Set([...of('basecolor').data].map((value) => Math.round(value * 255)));
    expect(tones.size).toBeGreaterThan(12);
    expect(of('roughness').data.every((value) => value > 0 && value <= 1)).toBe(true);
  });

  it('reads as sentences', () => {
    const { layers } = parseStackFile('example.json', JSON.stringify(EXAMPLE_STACK));
    const said = layers.map((layer) =>
      layerSentence(layer, { materials: [], pictures: [] })
        .map(({ text }) => text)
        .join(''),
    );
    expect(said[1]).toBe(
      'Lay plain #8f3b2a where not edges are worn to 3 mm, into base colour, roughness, metallic, height at 100 %.',
    );
    for (const sentence of said) expect(sentence).toMatch(/^[A-Z].* at \d+ %\.$/);
  });
});

const linear = (value: number): number => (value <= 0.04045 ? value / 12.92 : ((value + 0.055) / 1.055) ** 2.4);
const screen = (value: number): number => (value <= 0.0031308 ? value * 12.92 : 1.055 * value ** (1 / 2.4) - 0.055);
