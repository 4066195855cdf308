import { availableParallelism } from 'node:os';
import sharp from 'sharp';
import { BLEND_MODES, type Image } from '@zographos/core/image';
import { composeTile, layeredMeshes, layeredTile, onThisThread, prepareProcesses } from '@zographos/core/layers';
import { reliefPlane, sphere } from '@zographos/core/testing';
import { DEMO_STACKS } from '@zographos/demo';
import { operationOf, parseSettings, type LayersSettings } from '@zographos/operations';
import type { RunPicture } from '@zographos/operations/run-context';
import { hashedMesh } from '@zographos/operations/scene';
import { seconds, type Figures } from './figures.ts';
import { benchPainting } from './painting.ts';

/**
 * Stacks of layers, in layer-channel-texels a second: on one thread as a preview composes them, on all threads as a run
 * does, and pictures blended beside `sharp.composite`.
 */
export async function benchLayers(say: (line: string) => void): Promise<Figures> {
  const figures: Figures = {};
  // First, as in a worker of the studio: after large maps the memory of the process is another.
  figures['painting'] = await benchPainting(say);
  for (const [name, layers] of Object.entries(STACKS)) {
    const own: Figures = {};
    const rate = (time: number, side: number): number => (layers.length * CHANNELS.length * side ** 2) / time;
    const tell = (what: string, value: number): void => {
      own[what] = value;
      say(`${name}, ${what}: ${(value / 1e6).toFixed(1)} million layer-channel-texels/s`);
    };
    tell('1024 px on one thread', rate(await onOneThread(layers, 1024), 1024));
    for (const side of [1024, 4096]) tell(`${side} px on ${THREADS} threads`, rate(await asRun(layers, side), side));
    figures[name] = own;
  }
  figures['blended'] = await besideSharp(say);
  const many = Array.from({ length: 30 }, (_, i) => plain(i));
  const time = await asRun(many, 4096);
  figures['30 plain layers, 4096 px'] = { seconds: time, peakMemoryBytes: process.resourceUsage().maxRSS * 1024 };
  say(
    `30 plain layers, 4096 px: ${time.toFixed(1)} s, peak of the process so far ${(process.resourceUsage().maxRSS / 1024 ** 2).toFixed(2)} GiB`,
  );
  const drops = await asRun([runs], 2048, sphere('receiver', 500, 500, 500));
  figures['a million drops on 500 000 triangles'] = { seconds: drops };
  say(`a million drops on 500 000 triangles, 2048 px: ${drops.toFixed(1)} s`);
  return figures;
}

const runs = {
  ...{ id: 'runs', name: 'runs', content: 'plain', values: { roughness: 0.2 } },
  mask: { steps: [{ measure: 'runs', drops: 1_000_000, length: 40, down: [0, 0, -1] }] },
};
const THREADS = availableParallelism();
const CHANNELS = ['basecolor', 'roughness', 'metallic', 'height', 'normal'] as const;

const plain = (i: number): object => ({
  ...{ id: `plain ${i}`, name: 'plain', content: 'plain', opacity: 0.8 },
  values: { basecolor: '#8c7b6a', roughness: 0.4, metallic: 0.1, height: 0.1 },
  mask: { steps: [{ measure: 'axis', axis: [1, 0, 0], from: -50 + i, to: 50 }] },
});
const tiling = (i: number, by: 'uv' | 'triplanar'): object => ({
  ...{ id: `${by} ${i}`, name: by, content: 'tiling', material: 0, opacity: 0.8, projection: { by } },
  channels: [...CHANNELS],
});
const eight = (layer: (i: number) => object): LayersSettings['layers'] =>
  parseSettings('layers', { size: SIZE, layers: Array.from({ length: 8 }, (_, i) => layer(i)) }).layers;
const SIZE = { width: 1024, height: 1024 };

const STACKS: Record<string, LayersSettings['layers']> = {
  'eight plain layers': eight(plain),
  'eight tiling layers by UVs': eight((i) => tiling(i, 'uv')),
  'eight tiling layers, triplanar': eight((i) => tiling(i, 'triplanar')),
  'the demo’s bell buoy': DEMO_STACKS[0]!.settings.layers,
};

const side = 1024;
const image = (channels: number, value: (i: number) => number): Image => ({
  ...{ width: side, height: side, channels },
  data: Float32Array.from({ length: side * side * channels }, (_, i) => value(i)),
});
const noise = (i: number): number => ((i * 2654435761) % 1000) / 1000;
const held = (picture: Image): RunPicture => ({ hash: '', name: 'picture', bytes: new Uint8Array(0), image: picture });
/** Maps of a tiling material, and those that a receiver has been measured in. */
const PICTURES = [
  held(image(3, noise)),
  held(image(1, noise)),
  held(image(3, (i) => (i % 3 === 2 ? 1 : 0.5))),
  held(image(1, () => 0.5)),
];
const MATERIAL = {
  ...{ name: 'material', set: null, width: 50 },
  maps: { basecolor: 0, roughness: 1, metallic: 1, height: 1, normal: 2 },
};
const MEASURED: LayersSettings['measured'] = (['height', 'ao', 'curvature', 'sky', 'normal'] as const).map((kind) => ({
  ...{ kind, tile: 1001, picture: kind === 'normal' ? 2 : 3 },
}));

const mesh = reliefPlane('receiver', 32, 50, (x, y) => 3 * Math.sin(x / 9) * Math.cos(y / 9));

async function asRun(layers: readonly object[], width: number, receiver = mesh): Promise<number> {
  const { run } = await operationOf('layers').load();
  const settings = parseSettings('layers', {
    ...{ size: { width, height: width }, layers, materials: [MATERIAL], measured: MEASURED },
  });
  return seconds(async () => {
    await run({
      ...{ settings, inputs: { receivers: [hashedMesh(receiver)], sources: [] }, pictures: PICTURES },
      ...{ threads: THREADS, memoryLimitBytes: 64e9, cancelFlag: new Int32Array(new SharedArrayBuffer(4)) },
      onProgress: () => {},
      put: () => Promise.resolve(),
    });
  });
}

async function onOneThread(layers: LayersSettings['layers'], width: number): Promise<number> {
  const { stackInputs } = await import('@zographos/operations/preview');
  const surface = layeredMeshes([mesh], 0, 1);
  const tile = layeredTile(surface, 1001, { width, height: width });
  const settings = { layers, materials: [MATERIAL], measured: MEASURED, unit: 1 };
  const inputsOf = await stackInputs(settings, (number) => Promise.resolve(PICTURES[number]!.image!));
  const inputs = await inputsOf(1001, tile.size);
  const stack = { layers, mixing: 'seen' as const };
  return seconds(async () => {
    const processes = await prepareProcesses(layers, surface, tile.size, inputsOf);
    const options = { doBlocks: onThisThread(tile, 'seen') };
    await composeTile(stack, [...CHANNELS], { tile, inputs: { ...inputs, processes }, options });
  });
}

/** Two pictures of 2048 px in the modes that sharp has; sharp works in eight bits, layers in floats. */
async function besideSharp(say: (line: string) => void): Promise<Figures> {
  const raw = { width: 2048, height: 2048, channels: 3 } as const;
  const bytes = Buffer.from(Uint8Array.from({ length: 2048 ** 2 * 3 }, (_, i) => (i * 31) % 256));
  const names: Record<string, string> = { normal: 'over', 'color-dodge': 'colour-dodge', 'color-burn': 'colour-burn' };
  const picture = held({ ...raw, data: Float32Array.from(bytes, (value) => value / 255) });
  const { run } = await operationOf('layers').load();
  const figures: Figures = {};
  for (const mode of BLEND_MODES) {
    const layers = [0, 1].map((i) => ({
      ...{ id: `${i}`, name: 'picture', content: 'picture', picture: 0, channels: ['basecolor'], opacity: 1 },
      blend: i === 0 ? 'normal' : mode,
    }));
    const settings = parseSettings('layers', {
      size: { width: 2048, height: 2048 },
      layers,
      padding: 0,
      mixing: 'light',
    });
    const ours = await seconds(async () => {
      await run({
        ...{ settings, inputs: { receivers: [], sources: [] }, pictures: [picture], threads: THREADS },
        ...{ memoryLimitBytes: 64e9, cancelFlag: new Int32Array(new SharedArrayBuffer(4)), onProgress: () => {} },
        put: () => Promise.resolve(),
      });
    });
    const theirs = await seconds(() =>
      sharp(bytes, { raw })
        .composite([{ input: bytes, raw, blend: (names[mode] ?? mode) as 'multiply' }])
        .raw()
        .toBuffer(),
    );
    figures[mode] = { seconds: ours, 'ratioTo sharp': theirs / ours };
    say(`two pictures of 2048 px, ${mode}: ${ours.toFixed(2)} s as a run, ${(theirs / ours).toFixed(2)} × sharp`);
  }
  return figures;
}
