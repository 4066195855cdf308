import { availableParallelism } from 'node:os';
import {
  barePlanes,
  BlockBoxes,
  CoverageMemory,
  composeLayers,
  composeTile,
  copyPlanes,
  layAgain,
  layeredMeshes,
  layeredTile,
  layRelief,
  onThisThread,
  planesFor,
  PLAIN_BRUSH,
  POINT,
  type BlockPlaces,
  type LayerChannel,
  type LayerInputs,
  type Stroke,
} from '@zographos/core/layers';
import { reliefPlane } from '@zographos/core/testing';
import { operationOf, parseSettings } from '@zographos/operations';
import { hashedMesh } from '@zographos/operations/scene';
import { seconds, type Figures } from './figures.ts';

/** Painting on a set of 2048 px under eight layers: a dab of 100 px, and a stroke of 2000 dabs drawn again. */
export async function benchPainting(say: (line: string) => void): Promise<Figures> {
  const side = 2048;
  const surface = layeredMeshes([reliefPlane('receiver', 32, 50)], 0, 1);
  const tile = layeredTile(surface, 1001, { width: side, height: side });
  const millimetres = 100 / side;
  const strokeOf = (dabs: number): Stroke => ({
    brush: { ...PLAIN_BRUSH, radius: 50 * millimetres, spacing: 0.25 },
    paint: { basecolor: '#c03020', roughness: 0.3 },
    points: Float32Array.from({ length: dabs * POINT }, (_, i) => {
      const [dab, k] = [Math.floor(i / POINT), i % POINT];
      // Rows of dabs over the plane, a quarter of a radius apart.
      const step = 50 * millimetres * 0.25;
      if (k === 0) return -40 + ((dab * step) % 80);
      if (k === 1) return -40 + Math.floor((dab * step) / 80) * 3;
      return k > 4 ? 1 : 0;
    }),
    seed: 1,
  });
  const figures: Figures = {};
  for (const [name, position] of [
    ['on top', 7],
    ['beneath seven', 0],
  ] as const) {
    const layers = stack(position);
    const beneath = { mixing: 'seen' as const, layers: layers.slice(0, position) };
    const above = { mixing: 'seen' as const, layers: layers.slice(position) };
    const everywhere = { doBlocks: onThisThread(tile, 'seen') };
    const base = barePlanes(tile, planesFor(CHANNELS));
    await composeLayers(beneath, [{ tile, planes: base, inputs: inputsWith(strokeOf(2)), options: everywhere }]);
    const planes = copyPlanes(base);
    await composeLayers(above, [{ tile, planes, inputs: inputsWith(strokeOf(200)), options: everywhere }]);
    await layRelief(planes, CHANNELS, inputsWith(strokeOf(200)), everywhere);
    const boxes = new BlockBoxes(tile);
    const places = new Map<number, BlockPlaces>();
    const memory = new CoverageMemory();
    const times: number[] = [];
    for (let dabs = 201; dabs <= 240; dabs++) {
      const stroke = strokeOf(dabs);
      times.push(
        await seconds(async () => {
          const under = boxes.under(stroke, dabs - 1);
          const only = { doBlocks: onThisThread(tile, 'seen', undefined, places, under) };
          await layAgain(above, base, planes, ['basecolor', 'roughness'], inputsWith(stroke, memory), only);
        }),
      );
    }
    const median = times.sort((a, b) => a - b)[times.length >> 1]!;
    figures[`a dab of 100 px, ${name}`] = { seconds: median };
    say(`a dab of 100 px at 2048 px, painted ${name}: ${(median * 1000).toFixed(1)} ms`);
  }
  const whole = await seconds(() =>
    composeTile({ mixing: 'seen', layers: stack(0).slice(0, 1) }, CHANNELS, {
      ...{ tile, inputs: inputsWith(strokeOf(2000)), options: { doBlocks: onThisThread(tile, 'seen') } },
    }),
  );
  figures['a stroke of 2000 dabs drawn again'] = { seconds: whole };
  const { run } = await operationOf('layers').load();
  const settings = parseSettings('layers', { size: { width: side, height: side }, layers: stack(0).slice(0, 1) });
  const asRun = await seconds(async () => {
    await run({
      ...{ settings, inputs: { receivers: [hashedMesh(reliefPlane('receiver', 32, 50))], sources: [] }, pictures: [] },
      ...{ strokes: new Map([['s', strokeOf(2000)]]), threads: availableParallelism(), memoryLimitBytes: 64e9 },
      ...{ cancelFlag: new Int32Array(new SharedArrayBuffer(4)), onProgress: () => {}, put: () => Promise.resolve() },
    });
  });
  figures['a stroke of 2000 dabs drawn again, as a run'] = { seconds: asRun };
  say(`a stroke of 2000 dabs drawn again at 2048 px, as a run on all threads: ${asRun.toFixed(2)} s`);
  say(`a stroke of 2000 dabs drawn again at 2048 px, on one thread: ${whole.toFixed(2)} s`);
  return figures;
}

const CHANNELS: readonly LayerChannel[] = ['basecolor', 'roughness', 'metallic', 'height', 'normal'];

/** Eight layers, one of which is painted. @param position of that one, from the ground */
const stack = (position: number) =>
  parseSettings('layers', {
    size: { width: 1024, height: 1024 },
    layers: Array.from({ length: 8 }, (_, i) =>
      i === position
        ? { id: 'p', name: 'painted', content: 'painted', channels: ['basecolor', 'roughness'], strokes: ['s'] }
        : {
            ...{ id: `${i}`, name: 'plain', content: 'plain', opacity: 0.8 },
            values: { basecolor: '#8c7b6a', roughness: 0.4, metallic: 0.1, height: 0.1 },
            mask: { steps: [{ measure: 'axis', axis: [1, 0, 0], from: -50 + i, to: 50 }] },
          },
    ),
  }).layers;

const inputsWith = (stroke: Stroke, memory?: CoverageMemory): LayerInputs => ({
  ...{ measured: {}, materials: [], pictures: [], planes: new Map(), processes: new Map() },
  strokes: new Map([['s', stroke]]),
  ...(memory ? { underPen: { name: 's', memory } } : {}),
});
