import { afterEach, describe, expect, it, vi } from 'vitest';
import { samplesBody } from '@zographos/contracts';
import { PLAIN_BRUSH, POINT, type Layer } from '@zographos/core/layers';
import { reliefPlane } from '@zographos/core/testing';
import { packMesh } from '@zographos/formats/packed-mesh';
import { parseSettings, recordOfStroke, type StrokeRecord } from '@zographos/operations';
import { workerScope } from '../../../testing/workerScope.ts';
import { made } from '../adding/newLayers.ts';
import { PLAIN_PICTURE } from '../painting/pen.ts';
import type { LayersAsk, LayersMessage, LayersTold } from './layersMessages.ts';
import { UNDER_PEN } from './underPen.ts';
import { withPatches } from './withPatches.ts';

// What the kernel computes is tested beside it.
vi.mock('../../../preview/previewKernel.ts', () => ({ usePreviewKernel: () => Promise.resolve() }));

afterEach(() => vi.unstubAllGlobals());

const packed = packMesh(reliefPlane('plane', 4, 50));
const fetched: string[] = [];

/** A server that has one mesh, and an occlusion that grows to the right. */
function server(path: string): Promise<Response> {
  fetched.push(path);
  if (path.includes('mesh')) return Promise.resolve(new Response(packed.slice().buffer));
  const data = Float32Array.from({ length: 64 * 64 }, (_, i) => (i % 64) / 63);
  return Promise.resolve(new Response(samplesBody({ width: 64, height: 64, channels: 1, data }) as BodyInit));
}

async function opened() {
  fetched.length = 0;
  const scope = await workerScope<LayersMessage, LayersTold>(() => import('./layersWorker.ts'));
  vi.stubGlobal('fetch', server);
  return scope;
}
type Composed = Extract<LayersTold, { what: 'composed' }>;

const plain = (id: string, values: object, more: object = {}): Layer =>
  made({ id, name: id, content: 'plain', values, ...more });
const occluded = { mask: { steps: [{ measure: 'map', map: 'ao', from: 0, to: 1 }] } };
const ask = (turn: number, layers: Layer[], more: Partial<LayersAsk> = {}): LayersAsk => ({
  what: 'show',
  turn,
  surface: { urls: ['/mesh'], uvSet: 0, unit: 1, flat: [100, 100] },
  settings: {
    ...parseSettings('layers', { size: { width: 512, height: 512 }, layers }),
    measured: [{ kind: 'ao', tile: 1001, picture: 0 }],
  },
  pictures: [['occlusion', 'as baked']],
  ...{ side: 64, maskOf: null, section: null, histogramOf: null, pen: null, ...more },
});
const redAt = ({ tiles }: Composed, kind: string, x: number): number =>
  tiles[0]!.maps.find((map) => map.kind === kind)!.rgba[(32 * 64 + x) * 4]!;

describe('the preview of a stack', () => {
  it('composes what the server would, at the size of the screen', async () => {
    const scope = await opened();
    scope.send(ask(1, [plain('a', { roughness: 0 }), plain('b', { roughness: 1 }, occluded)]));
    const told = (await scope.next()) as Composed;
    expect(told).toMatchObject({ what: 'composed', turn: 1, problems: [] });
    expect(told.tiles[0]!.maps.map(({ kind, width }) => [kind, width])).toEqual([['roughness', 64]]);
    for (const x of [5, 30, 60]) expect(redAt(told, 'roughness', x)).toBeCloseTo((x / 63) * 255, -0.5);
  });

  it('goes on from the layer that is changed, to the same picture as from the ground', async () => {
    const scope = await opened();
    const layers = [
      plain('a', { roughness: 0.2 }),
      plain('b', { roughness: 0.9 }, occluded),
      plain('c', { metallic: 1 }),
    ];
    const half = layers.map((layer) => (layer.id === 'b' ? { ...layer, opacity: 0.5 } : layer));
    scope.send(ask(1, layers));
    await scope.next();
    scope.send(ask(2, half));
    const after = (await scope.next()) as Composed;
    const fresh = await opened();
    fresh.send(ask(1, half));
    const anew = (await fresh.next()) as Composed;
    expect(after.tiles[0]!.maps.map(({ rgba }) => [...rgba])).toEqual(anew.tiles[0]!.maps.map(({ rgba }) => [...rgba]));
    // Mesh and map were fetched once each.
    expect(fetched).toHaveLength(2);
  });

  it('leaves out what lacks a map, and says which', async () => {
    const scope = await opened();
    const worn = plain('worn', { metallic: 1 }, { mask: { steps: [{ measure: 'wear' }] } });
    scope.send(ask(1, [plain('a', { roughness: 0.2 }), worn]));
    const { problems, tiles } = (await scope.next()) as Composed;
    expect(problems).toEqual([{ id: 'worn', message: expect.stringContaining('needs the curvature map') as string }]);
    expect(tiles[0]!.maps.map(({ kind }) => kind)).toEqual(['roughness']);
  });

  it('shows a mask, the section, and what lies at a place', async () => {
    const scope = await opened();
    const section = { triangles: Uint32Array.of(0, 30), points: Float32Array.of(-45, -48, 0, 45, 30, 0) };
    const layers = [plain('a', { basecolor: '#ff0000' }), plain('b', { basecolor: '#0000ff' }, occluded)];
    scope.send(ask(1, layers, { maskOf: 'b', section }));
    const { tiles } = (await scope.next()) as Composed;
    expect(tiles[0]!.mask!.rgba[(32 * 64 + 63) * 4]).toBe(255);
    const told = await scope.next();
    if (told.what !== 'section') throw new Error('No section was told.');
    const [ground, coat] = told.strata;
    expect([...ground!.strength]).toEqual([1, 1]);
    expect([...ground!.colors!.subarray(0, 3)].map(Math.round)).toEqual([1, 0, 0]);
    expect(coat!.strength[1]!).toBeGreaterThan(coat!.strength[0]! + 0.7);
    scope.send({ what: 'triangle', tile: 1001, u: 0.02, v: 0.01, add: true, pressure: 0.5 });
    // Where exactly, on the surface in millimetres: the pen goes by it.
    expect(await scope.next()).toMatchObject({
      ...{ what: 'triangle', triangle: 0, add: true, pressure: 0.5 },
      place: [expect.closeTo(-48, 4), expect.closeTo(-49, 4), 0],
      normal: [0, 0, 1],
    });
    scope.send({ what: 'done' });
    expect(await scope.next()).toEqual({ what: 'done' });
    // Of a click: what masks can go by there.
    const click = { triangle: 4, add: false, pressure: null, place: [-20, -45, 0], normal: [0, 0, 1] } as const;
    scope.send({ what: 'facts', found: { ...click, place: [-20, -45, 0], normal: [0, 0, 1] } });
    expect(await scope.next()).toMatchObject({
      ...{ what: 'triangle', triangle: 4 },
      facts: { slot: 'default', tile: 1001, idColor: null },
    });
    // The plane is level: faces hang together over all its edges, and grow from one to those around it.
    scope.send({ what: 'faces', triangle: 0, angle: 5 });
    const all = await scope.next();
    if (all.what !== 'faces') throw new Error('No faces were told.');
    expect(all.ranges).toEqual([[0, all.of]]);
    scope.send({ what: 'grow', ranges: [[0, 1]] });
    const grown = await scope.next();
    if (grown.what !== 'faces') throw new Error('No faces were told.');
    const count = grown.ranges.reduce((sum, [from, to]) => sum + to - from, 0);
    expect(count).toBeGreaterThan(2);
    expect(count).toBeLessThan(14);
    // The upper half of the map, drawn around.
    scope.send({ what: 'lasso', polygon: [0, 0, 1, 0, 1, 0.5, 0, 0.5], on: { tile: 1001 } });
    const within = await scope.next();
    if (within.what !== 'faces') throw new Error('No faces were told.');
    expect(within.ranges.reduce((sum, [from, to]) => sum + to - from, 0)).toBe(all.of / 2);
  });

  it('composes under the pen what the stroke grows over, to the same picture as anew', async () => {
    const layers = [
      plain('a', { roughness: 0.2, basecolor: '#204060' }),
      made({ id: 'p', name: 'p', content: 'painted', channels: ['roughness', 'height'], strokes: [UNDER_PEN] }),
      plain('c', { roughness: 1 }, occluded),
    ];
    const stroke = (count: number): StrokeRecord =>
      recordOfStroke({
        brush: { ...PLAIN_BRUSH, radius: 6 },
        paint: { roughness: 0.9, height: 1 },
        points: Float32Array.from({ length: count * POINT }, (_, i) =>
          i % POINT === 0 ? (i / POINT) * 8 - 30 : i % POINT > 4 ? 1 : 0,
        ),
        seed: 3,
      });
    const scope = await opened();
    scope.send(ask(1, layers, { pen: stroke(2) }));
    const begun = (await scope.next()) as Composed;
    scope.send({ what: 'pen', turn: 1, pen: stroke(5) });
    const told = await scope.next();
    if (told.what !== 'patched' || !told.tiles) throw new Error('Nothing was patched.');
    const [patched] = withPatches(begun.tiles, told.tiles);
    const fresh = await opened();
    fresh.send(ask(1, layers, { pen: stroke(5) }));
    const anew = ((await fresh.next()) as Composed).tiles[0]!;
    for (const kind of ['basecolor', 'roughness', 'height', 'normal'] as const) {
      const [a, b] = [patched!, anew].map(({ maps }) => maps.find((map) => map.kind === kind)!);
      expect(a!.version, kind).toBe(kind === 'basecolor' ? undefined : 1);
      expect([...a!.rgba], kind).toEqual([...b!.rgba]);
    }
    // Less than all is sent again.
    expect(told.tiles[0]!.patches.length).toBeLessThanOrEqual(4);
    // What softens what lies beneath looks further than its texels.
    fresh.send(ask(2, layers, { pen: { ...stroke(2), brush: { ...PLAIN_BRUSH, tool: 'blur' } } as StrokeRecord }));
    await fresh.next();
    fresh.send({
      what: 'pen',
      turn: 2,
      pen: { ...stroke(5), brush: { ...PLAIN_BRUSH, tool: 'blur' } } as StrokeRecord,
    });
    expect(await fresh.next()).toMatchObject({ what: 'patched', tiles: null });
  });

  it('counts how often values occur beneath an adjustment, and in the steps of a mask', async () => {
    const scope = await opened();
    const steps = [{ do: 'levels', black: 0, white: 1, gamma: 1 }];
    const adjusted = { id: 'l', name: 'l', content: 'adjustment', channels: ['roughness'] };
    const levels = made({ ...adjusted, steps });
    const layers = [plain('a', { roughness: 0 }), plain('b', { roughness: 1 }, occluded), levels];
    const told = async (turn: number, of: LayersAsk['histogramOf']): Promise<number[]> => {
      scope.send(ask(turn, layers, { histogramOf: of }));
      await scope.next();
      const counted = await scope.next();
      if (counted.what !== 'histogram') throw new Error('No histogram was told.');
      return counted.bins;
    };
    // Occlusion goes evenly from 0 to 1 over the plane, and so does what lies beneath, and the mask.
    for (const of of [
      { layer: 'l', of: 'beneath' },
      { layer: 'b', of: 'mask' },
    ] as const) {
      const bins = await told(of.of === 'mask' ? 2 : 1, of);
      const all = bins.reduce((sum, count) => sum + count, 0);
      expect(all).toBeGreaterThan(60_000);
      // Values at both ends of the map are held as far as its border.
      for (const count of bins) expect(Math.abs(count / all - 1 / 64)).toBeLessThan(0.009);
      expect(bins.slice(0, 32).reduce((sum, count) => sum + count, 0) / all).toBeCloseTo(0.5, 2);
    }
    // What is done before the levels is done before it is counted.
    layers[2] = made({ ...adjusted, steps: [{ do: 'clamp', low: 0, high: 0.5 }, ...steps] });
    const bins = await told(3, { layer: 'l', of: 'beneath' });
    expect(bins.slice(34).every((count) => count === 0)).toBe(true);
    expect(bins[32]! + bins[31]!).toBeGreaterThan(30_000);
  });

  it('knows the images of brushes before it looks where a process begins', async () => {
    const scope = await opened();
    const name = 'f'.repeat(64);
    const brush = { ...PLAIN_BRUSH, radius: 40, picture: { ...PLAIN_PICTURE, picture: 1 } };
    const points = Float32Array.of(0, 0, 0, 0, 0, 1, 1);
    const record = recordOfStroke({ brush, paint: { grey: 1 }, points, seed: 1 });
    vi.stubGlobal('fetch', (path: string) =>
      path.includes(name) ? Promise.resolve(new Response(JSON.stringify(record))) : server(path),
    );
    const runs = { measure: 'runs', drops: 50, from: [{ measure: 'painted', strokes: [name] }] };
    const layers = [plain('a', { roughness: 1 }, { mask: { steps: [runs] } })];
    const pictures: LayersAsk['pictures'] = [
      ['occlusion', 'as baked'],
      ['tip', 'as brought in'],
    ];
    scope.send(ask(1, layers, { pictures }));
    expect(await scope.next()).toMatchObject({ what: 'composed', problems: [] });
  });

  it('says what it could not do', async () => {
    const scope = await opened();
    vi.stubGlobal('fetch', () => Promise.resolve(new Response('', { status: 404 })));
    scope.send(ask(1, [plain('a', { roughness: 0.5 })]));
    expect(await scope.next()).toEqual({ what: 'failed', turn: 1, message: expect.stringContaining('mesh') as string });
  });
});
