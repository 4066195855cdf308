import { describe, expect, it } from 'vitest';
import type { Mesh } from '../../mesh/mesh.ts';
import { reliefPlane, sphere } from '../../testing/shapes.ts';
import { composeTile } from '../composeTile.ts';
import { layeredMeshes, layeredTile, type LayeredSurface } from '../layeredSurface.ts';
import type { LayerInputs } from '../layerInputs.ts';
import { onThisThread } from '../onThisThread.ts';
import { PLAIN_SHAPING, type Layer } from '../stack.ts';
import { dabsOf } from './dabs.ts';
import { PLAIN_BRUSH, type Brush, type Paint, type Stroke } from './stroke.ts';

const stroke = (points: number[][], brush: Partial<Brush> = {}, paint: Paint = { roughness: 1 }): Stroke => ({
  ...{ brush: { ...PLAIN_BRUSH, ...brush }, paint, seed: 1 },
  points: Float32Array.from(
    points.flatMap(([x, y, z, nx, ny, nz, pressure = 1]) => [x!, y!, z!, nx!, ny!, nz!, pressure]),
  ),
});
/** A line over a plane that faces up. */
const line = (from: number[], to: number[], count = 20): number[][] =>
  Array.from({ length: count }, (_, i) => {
    const share = i / (count - 1);
    return [from[0]! + (to[0]! - from[0]!) * share, from[1]! + (to[1]! - from[1]!) * share, 0, 0, 0, 1];
  });

async function painted(strokes: Stroke[], surface: LayeredSurface, side = 256): Promise<Float32Array> {
  const layer: Layer = {
    ...{ id: 'p', name: 'painted', visible: true, opacity: 1, blend: 'normal', blends: {} },
    ...{ heightBlend: 'add', normalBlend: 'detail', mask: { steps: [], shaping: PLAIN_SHAPING } },
    ...{ content: 'painted', channels: ['roughness'], strokes: strokes.map((_, i) => `${i}`) },
  };
  const ground: Layer = { ...layer, id: 'g', content: 'plain', values: { roughness: 0 } };
  const tile = layeredTile(surface, 1001, { width: side, height: side });
  const inputs: LayerInputs = {
    ...{ measured: {}, materials: [], pictures: [], planes: new Map(), processes: new Map() },
    strokes: new Map(strokes.map((each, i) => [`${i}`, each])),
  };
  const stack = { mixing: 'seen' as const, layers: [ground, layer] };
  const planes = await composeTile(stack, ['roughness'], tile, inputs, { doBlocks: onThisThread(tile, 'seen') });
  // Beyond the layout nothing can be painted.
  return planes.channels.roughness!.map((value, i) => (planes.states[i] ? value : 0));
}

/** A square of 100 mm with UVs that are laid out otherwise. */
function square(change: (u: number, v: number) => [number, number]): LayeredSurface {
  const mesh = reliefPlane('square', 8, 50);
  const { coords } = mesh.uvSets[0]!;
  mesh.uvSets[0]!.coords = coords.map((_, i) => change(coords[i - (i % 2)]!, coords[i - (i % 2) + 1]!)[i % 2]!);
  return layeredMeshes([mesh], 0, 1);
}
const plain = square((u, v) => [u, v]);
/** Painted area in mm², of a map that covers the square by this share. */
const area = (values: Float32Array, share: number): number =>
  (values.reduce((sum, value) => sum + value, 0) / values.length / share) * 100 ** 2;

describe('dabs', () => {
  it('are set down evenly along a stroke, however its points came in', () => {
    const brush = { radius: 5, spacing: 0.5 };
    const even = dabsOf(stroke(line([-40, 0], [40, 0], 3), brush));
    const uneven = dabsOf(stroke([...line([-40, 0], [-39, 0], 50), ...line([-38, 0], [40, 0], 7)], brush));
    expect([even.count, uneven.count]).toEqual([33, 33]);
    for (let i = 0; i < 33 * 3; i++) expect(uneven.centers[i]).toBeCloseTo(even.centers[i]!, 3);
    expect(dabsOf(stroke([[1, 2, 3, 0, 0, 1]])).count).toBe(1);
    // Points without end become fewer dabs, not more memory.
    expect(dabsOf(stroke(line([-1e7, 0], [1e7, 0]), brush)).count).toBeLessThan(200_002);
  });
});

describe('a stroke', () => {
  it('has its area on the surface, whatever the layout is, and lies where it lay', async () => {
    const dab = [stroke([[10, 5, 0, 0, 0, 1]], { radius: 20, hardness: 1 })];
    const layouts = {
      plain,
      squeezed: square((u, v) => [u * 0.4, v * 0.9]),
      turned: square((u, v) => [v * 0.7, 1 - u * 0.7]),
    };
    const shares = { plain: 1, squeezed: 0.36, turned: 0.49 };
    for (const [name, surface] of Object.entries(layouts)) {
      const values = await painted(dab, surface, 512);
      expect(area(values, shares[name as keyof typeof shares]) / (Math.PI * 400), name).toBeCloseTo(1, 1.9);
    }
    const before = await painted(dab, layouts.plain);
    const after = await painted(dab, layouts.turned);
    // The same place of the surface, in both layouts.
    for (const [x, y] of [
      [10, 5],
      [25, 5],
      [40, 5],
    ] as const) {
      const [u, v] = [x / 100 + 0.5, y / 100 + 0.5];
      const at = (values: Float32Array, s: number, t: number): number =>
        values[Math.floor((1 - t) * 256) * 256 + Math.floor(s * 256)]!;
      expect(at(after, v * 0.7, 1 - u * 0.7)).toBeCloseTo(at(before, u, v), 1);
    }
  });

  it('goes over a seam as over the rest', async () => {
    const ball = layeredMeshes([sphere('ball', 50, 64, 128)], 0, 1);
    const side = 512;
    const around = (turn: number): number[] => [
      50 * Math.cos(turn),
      50 * Math.sin(turn),
      0,
      Math.cos(turn),
      Math.sin(turn),
      0,
    ];
    const values = await painted(
      [stroke([around(-0.3), around(-0.1), around(0.1), around(0.3)], { radius: 8 })],
      ball,
      side,
    );
    // The seam is where both ends of the map meet; across it neighbours differ as little as elsewhere.
    const row = Math.floor(side / 2) * side;
    const step = (a: number, b: number): number => {
      let sum = 0;
      for (let y = -30; y <= 30; y++) sum += Math.abs(values[row + y * side + a]! - values[row + y * side + b]!);
      return sum / 61;
    };
    expect(values[row]).toBe(1);
    expect(step(side - 1, 0)).toBeLessThan(step(10, 11) + 0.01);
    // And nothing shows on the other side of the ball.
    expect(values[row + side / 2]).toBe(0);
  });

  it('does not go through a wall', async () => {
    const flip = (mesh: Mesh): Mesh => ({
      ...mesh,
      positions: mesh.positions.map((value, i) => (i % 3 === 2 ? value - 2 : value)),
      normals: mesh.normals.map((value) => -value),
      indices: mesh.indices.map((_, i, all) => all[i - (i % 3) + [0, 2, 1][i % 3]!]!),
    });
    const back = flip(reliefPlane('back', 8, 50));
    const surface = layeredMeshes([back], 0, 1);
    const values = await painted([stroke(line([-40, 0], [40, 0]), { radius: 20 })], surface);
    expect(Math.max(...values)).toBe(0);
  });

  it('is as strong as its brush at most, however often it goes over itself, and is erased again', async () => {
    const there = line([-40, 0], [40, 0]);
    const once = await painted([stroke(there, { radius: 10, hardness: 1, strength: 0.5 })], plain);
    const often = await painted(
      [stroke([...there, ...there.toReversed(), ...there], { radius: 10, hardness: 1, strength: 0.5 })],
      plain,
    );
    expect(Math.max(...once)).toBeCloseTo(0.5, 5);
    expect(Math.max(...often)).toBeCloseTo(0.5, 5);
    const two = stroke(there, { radius: 10, hardness: 1, strength: 0.5 });
    expect(Math.max(...(await painted([two, two], plain)))).toBeCloseTo(0.75, 5);
    const erased = await painted([two, stroke(there, { radius: 12, hardness: 1, tool: 'erase' })], plain);
    expect(Math.max(...erased)).toBeCloseTo(0, 5);
  });

  it('is drawn again at another size: 128 px are as 512 px', async () => {
    const strokes = [stroke(line([-30, -20], [30, 25]), { radius: 12, hardness: 0.2 })];
    const [small, large] = [await painted(strokes, plain, 128), await painted(strokes, plain, 512)];
    expect(area(small, 1) / area(large, 1)).toBeCloseTo(1, 2);
  });

  it('goes by pressure', async () => {
    const light = line([-40, 0], [40, 0]).map((point) => [...point, 0.3]);
    const values = await painted([stroke(light, { radius: 10, hardness: 1, spacing: 20 })], plain);
    expect(Math.max(...values)).toBeCloseTo(0.3, 5);
    const narrow = { radius: 10, hardness: 1, pressure: { radius: true, strength: false } };
    const thin = await painted([stroke([[0, 0, 0, 0, 0, 1, 0.5]], narrow)], plain, 512);
    expect(area(thin, 1) / (Math.PI * 25)).toBeCloseTo(1, 1.5);
  });
});
