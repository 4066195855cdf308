import { describe, expect, it } from 'vitest';
import type { Mesh } from '../../mesh/mesh.ts';
import { pictureLevels } from '../../bake/source/sourceMaterials.ts';
import { composed, layerBase } from '../../testing/layers.ts';
import {
  areaOnSquare,
  atOnSquare,
  brushPicture,
  namedStrokes,
  line,
  painted,
  paintedLayer,
  plainSquare,
  square,
  stroke,
} from '../../testing/painting.ts';
import { reliefPlane, sphere } from '../../testing/shapes.ts';
import { composeTiles } from '../compose/composeTile.ts';
import { tilesTogether } from '../compose/tilesTogether.ts';
import { flatSurface, layeredMeshes, layeredTile, type LayeredSurface } from '../surface/layeredSurface.ts';
import type { LayerInputs } from '../inputs/layerInputs.ts';
import { onThisThread } from '../compose/onThisThread.ts';
import type { Layer } from '../stack.ts';
import type { Brush, Stroke } from './stroke.ts';

describe('a stroke', () => {
  it('has its area on the surface, whatever the layout is, and lies where it lay', async () => {
    const dab = [stroke([[10, 5, 0, 0, 0, 1]], { radius: 20, hardness: 1 })];
    const layouts = {
      plain: plainSquare,
      squeezed: square((u, v) => [u * 0.4, v * 0.9]),
      turned: square((u, v) => [v * 0.7, 1 - u * 0.7]),
    };
    const shares = { plain: 1, squeezed: 0.36, turned: 0.49 };
    for (const [name, surface] of Object.entries(layouts)) {
      const values = await painted(dab, surface, 512);
      expect(areaOnSquare(values, shares[name as keyof typeof shares]) / (Math.PI * 400), name).toBeCloseTo(1, 1.9);
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
    const once = await painted([stroke(there, { radius: 10, hardness: 1, strength: 0.5 })], plainSquare);
    const often = await painted(
      [stroke([...there, ...there.toReversed(), ...there], { radius: 10, hardness: 1, strength: 0.5 })],
      plainSquare,
    );
    expect(Math.max(...once)).toBeCloseTo(0.5, 5);
    expect(Math.max(...often)).toBeCloseTo(0.5, 5);
    const two = stroke(there, { radius: 10, hardness: 1, strength: 0.5 });
    expect(Math.max(...(await painted([two, two], plainSquare)))).toBeCloseTo(0.75, 5);
    const erased = await painted([two, stroke(there, { radius: 12, hardness: 1, tool: 'erase' })], plainSquare);
    expect(Math.max(...erased)).toBeCloseTo(0, 5);
  });

  it('is drawn again at another size: 128 px are as 512 px', async () => {
    const strokes = [stroke(line([-30, -20], [30, 25]), { radius: 12, hardness: 0.2 })];
    const [small, large] = [await painted(strokes, plainSquare, 128), await painted(strokes, plainSquare, 512)];
    expect(areaOnSquare(small, 1) / areaOnSquare(large, 1)).toBeCloseTo(1, 2);
  });

  it('goes by pressure', async () => {
    const light = line([-40, 0], [40, 0]).map((point) => [...point, 0.3]);
    const values = await painted([stroke(light, { radius: 10, hardness: 1, spacing: 20 })], plainSquare);
    expect(Math.max(...values)).toBeCloseTo(0.3, 5);
    const narrow: Partial<Brush> = { radius: 10, hardness: 1, varies: { radius: { by: 'pressure', least: 0 } } };
    const thin = await painted([stroke([[0, 0, 0, 0, 0, 1, 0.5]], narrow)], plainSquare, 512);
    expect(areaOnSquare(thin, 1) / (Math.PI * 25)).toBeCloseTo(1, 1.5);
  });
});

describe('symmetry and filling', () => {
  it('turns copies about an axis, all of the same area', async () => {
    const symmetry = { by: 'turn', axis: 2, at: [0, 0, 0], times: 4 } as const;
    const values = await painted(
      [stroke([[25, 5, 0, 0, 0, 1]], { radius: 8, hardness: 1, symmetry })],
      plainSquare,
      512,
    );
    for (const [x, y] of [
      [25, 5],
      [-5, 25],
      [-25, -5],
      [5, -25],
    ] as const)
      expect(atOnSquare(values, x, y, 512)).toBe(1);
    expect(areaOnSquare(values, 1) / (4 * Math.PI * 64)).toBeCloseTo(1, 1);
  });

  it('fills the face that was clicked, what lies beyond flat edges, or its part, wherever its UVs are', async () => {
    const fill = (reach: Brush['fill'], surface = plainSquare): Promise<Float32Array> =>
      painted([stroke([[10, 5, 0, 0, 0, 1]], { tool: 'fill', fill: reach })], surface, 512);
    // One of 8 × 8 × 2 triangles.
    expect(areaOnSquare(await fill('face'), 1) / (100 ** 2 / 128)).toBeCloseTo(1, 0.9);
    expect(areaOnSquare(await fill('angle'), 1) / 100 ** 2).toBeCloseTo(1, 2);
    const turned = square((u, v) => [v * 0.7, 1 - u * 0.7]);
    expect(areaOnSquare(await fill('face', turned), 0.49) / (100 ** 2 / 128)).toBeCloseTo(1, 0.9);
    const roof = layeredMeshes([reliefPlane('roof', 8, 50, (x) => -Math.abs(x))], 0, 1);
    const side = await painted([stroke([[10, 5, -10, 0.7, 0, 0.7]], { tool: 'fill', fill: 'angle' })], roof, 256);
    expect(areaOnSquare(side, 1) / (100 ** 2 / 2)).toBeCloseTo(1, 1);
  });
});

describe('retouching what lies beneath', () => {
  const paintedLine = stroke(line([-40, 20], [40, 20]), { radius: 6, hardness: 1 });

  it('softens what was painted, and keeps how much there is', async () => {
    const soft = stroke(line([-45, 20], [45, 20]), { tool: 'blur', radius: 24, hardness: 1, spacing: 0.1 });
    const [before, after] = [
      await painted([paintedLine], plainSquare),
      await painted([paintedLine, soft], plainSquare),
    ];
    expect(areaOnSquare(after, 1) / areaOnSquare(before, 1)).toBeCloseTo(1, 1);
    // The line ends at 26: half there, and some beyond.
    expect(atOnSquare(before, 0, 30)).toBe(0);
    expect(atOnSquare(after, 0, 30)).toBeGreaterThan(0.1);
    expect(atOnSquare(after, 0, 20)).toBeLessThan(1);
  });

  it('softens an island by what lies about it on the surface, not by its neighbours in the layout', async () => {
    // Two squares far apart whose islands nearly touch: one is painted all over, the other is softened beside it.
    const [left, right] = [reliefPlane('left', 4, 20), reliefPlane('right', 4, 20)];
    right.positions = right.positions.map((value, i) => (i % 3 === 0 ? value + 500 : value));
    for (const [mesh, u0] of [
      [left, 0],
      [right, 0.505],
    ] as const) {
      const { coords } = mesh.uvSets[0]!;
      mesh.uvSets[0]!.coords = coords.map((value, i) => (i % 2 === 0 ? u0 + value * 0.495 : value * 0.495));
    }
    const apart = layeredMeshes([left, right], 0, 1);
    const white = stroke([[500, 0, 0, 0, 0, 1]], { radius: 40, hardness: 1 });
    const soft = stroke(line([15, -20], [15, 20]), { tool: 'blur', radius: 30, hardness: 1 });
    const values = await painted([white, soft], apart);
    let most = 0;
    for (let at = 0; at < values.length; at++) if (at % 256 < 126) most = Math.max(most, values[at]!);
    expect(most).toBe(0);
    expect(values.some((value) => value > 0.9)).toBe(true);
  });

  it('clones what lies a step away, over a layout that is cut in between', async () => {
    const from = [0, 40, 0] as const;
    const copy = stroke(line([-30, -20], [30, -20]), { tool: 'clone', radius: 12, hardness: 1, from });
    // Two islands: the upper half of the square lies elsewhere.
    const cut = square((u, v) => [u * 0.45 + (v > 0.5 ? 0.5 : 0), v]);
    for (const surface of [plainSquare, cut]) {
      const [only, both] = [await painted([paintedLine], surface), await painted([paintedLine, copy], surface)];
      // A line of 60 mm and its ends, as wide as the one above.
      expect((areaOnSquare(both, 1) - areaOnSquare(only, 1)) / areaOnSquare(only, 1)).toBeGreaterThan(0.6);
    }
    const values = await painted([paintedLine, copy], plainSquare);
    expect([atOnSquare(values, 0, -20), atOnSquare(values, 0, -10)].map(Math.round)).toEqual([1, 0]);
  });

  it('clones, draws along and softens normals as they lean in space, however the layout is turned there', async () => {
    // The right half of the square lies turned by a quarter in the layout.
    const halves = square((u, v) => (u > 0.5 ? [0.5 + v * 0.4, 1.4 - u] : [u * 0.8, v * 0.8]));
    const [sin, cos] = [Math.sin(Math.PI / 6), Math.cos(Math.PI / 6)];
    const data = Float32Array.from({ length: 8 * 8 * 3 }, (_, i) => [0.5 + sin / 2, 0.5, 0.5 + cos / 2][i % 3]!);
    const pictures = [pictureLevels({ width: 8, height: 8, channels: 3, data })];
    const stamp = (x: number, y: number): Stroke =>
      stroke([[x, y, 0, 0, 0, 1]], { radius: 15, hardness: 1, picture: brushPicture({ gives: 'normal' }) }, {});
    const normalsWith = async (strokes: Stroke[]): Promise<Float32Array> => {
      const made = { pictures, strokes: namedStrokes(strokes) };
      return (await composed([paintedLayer(strokes, ['normal'])], ['normal'], halves, 256, made)).channels.normal!;
    };
    // x, y of the square as a texel of the right half.
    const texel = (x: number, y: number): number => {
      const [u, v] = [0.5 + (y / 100 + 0.5) * 0.4, 1.4 - (x / 100 + 0.5)];
      return (Math.floor((1 - v) * 256) * 256 + Math.floor(u * 256)) * 3;
    };
    const stamped = await normalsWith([stamp(25, 0)]);
    expect(stamped[texel(25, 0) + 2]).toBeCloseTo(cos, 2);
    const retouched: [Stroke[], number][] = [
      [[stamp(-25, 0), stroke([[25, 0, 0, 0, 0, 1]], { tool: 'clone', radius: 8, hardness: 1, from: [-50, 0, 0] })], 3],
      [[stamp(25, 0), stroke(line([22, 0], [28, 0]), { tool: 'smear', radius: 4, spacing: 0.1 })], 3],
      [[stamp(25, 0), stroke([[25, 0, 0, 0, 0, 1]], { tool: 'blur', radius: 8, hardness: 1 })], 2],
    ];
    for (const [strokes, digits] of retouched) {
      const normals = await normalsWith(strokes);
      for (let k = 0; k < 3; k++) {
        expect(normals[texel(25, 0) + k], strokes[1]!.brush.tool).toBeCloseTo(stamped[texel(25, 0) + k]!, digits);
      }
    }
  });

  it('draws along what lies under it, and erasing brings back what was beneath', async () => {
    const pull = stroke(line([0, 20], [0, -20], 40), { tool: 'smear', radius: 8, hardness: 1, spacing: 0.1 });
    const pulled = await painted([paintedLine, pull], plainSquare);
    expect(atOnSquare(pulled, 0, 8)).toBeGreaterThan(0.2);
    expect(atOnSquare(pulled, 20, 8)).toBe(0);
    const rub = stroke(line([-45, 0], [45, 0]), { tool: 'erase', radius: 45, hardness: 1 });
    expect(areaOnSquare(await painted([paintedLine, pull, rub], plainSquare), 1)).toBeLessThan(1);
  });
});

describe('on a flat tile that repeats', () => {
  // Half a tile is a whole number of texels: what is painted in the middle lies just so across the borders.
  const tile = flatSurface(64, 64);
  const tools: [string, (x: number, y: number) => Stroke[]][] = [
    ['paint', (x, y) => [stroke(line([x - 9, y - 5], [x + 9, y + 6]), { radius: 6, hardness: 0.5 })]],
    [
      'clone',
      (x, y) => [
        stroke(line([x - 9, y], [x + 9, y]), { radius: 6, hardness: 1 }),
        stroke(line([x - 9, y - 12], [x + 9, y - 12]), { tool: 'clone', radius: 5, from: [3, 12, 0] }),
      ],
    ],
    [
      'smear',
      (x, y) => [
        stroke(line([x - 9, y], [x + 9, y]), { radius: 6, hardness: 1 }),
        stroke(line([x, y + 8], [x, y - 16], 40), { tool: 'smear', radius: 5, hardness: 1, spacing: 0.2 }),
      ],
    ],
    [
      'blur',
      (x, y) => [
        stroke(line([x - 9, y], [x + 9, y]), { radius: 6, hardness: 1 }),
        stroke(line([x, y - 9], [x, y + 9]), { tool: 'blur', radius: 9, hardness: 0.5 }),
      ],
    ],
  ];
  it.each(tools)('goes on over its borders: %s', async (_tool, strokesAt) => {
    const inMiddle = await painted(strokesAt(32, 32), tile, 128);
    expect(inMiddle.some((value) => value > 0.5)).toBe(true);
    for (const [x, y] of [
      [64, 32],
      [32, 0],
      [0, 64],
    ] as const) {
      const moved = await painted(strokesAt(x, y), tile, 128);
      let most = 0;
      for (let at = 0; at < moved.length; at++) {
        const column = ((at % 128) + (32 - x) * 2 + 256) % 128;
        const row = (Math.floor(at / 128) - (32 - y) * 2 + 256) % 128;
        most = Math.max(most, Math.abs(moved[at]! - inMiddle[row * 128 + column]!));
      }
      // Places are floats, and a rim may fall on this side of a texel or on that.
      expect(most).toBeLessThan(0.02);
    }
  });
});

describe('over the border of UDIM tiles', () => {
  const one = square((u, v) => [u, v]);
  const two = square((u, v) => [u * 2, v]);
  const inputsOf = (strokes: Stroke[]): LayerInputs => ({
    ...{ measured: {}, materials: [], pictures: [], planes: new Map(), processes: new Map() },
    strokes: new Map(strokes.map((each, i) => [`${i}`, each])),
  });

  it.each([
    [
      'clone',
      [
        stroke(line([-35, 5], [-10, 5]), { radius: 8 }),
        stroke(line([5, -5], [30, -5]), { tool: 'clone', radius: 10, from: [-40, 10, 0] }),
      ],
    ],
    [
      'smear',
      [
        stroke(line([-30, 0], [-8, 0]), { radius: 8 }),
        stroke(line([-12, 2], [25, -3], 40), { tool: 'smear', radius: 8, spacing: 0.1 }),
      ],
    ],
  ] as [string, Stroke[]][])('%s takes from one to the other what it takes within one', async (_tool, strokes) => {
    const layer = paintedLayer(strokes, ['roughness']);
    const ground: Layer = { ...layerBase('ground'), content: 'plain', values: { roughness: 0 } };
    const inputs = inputsOf(strokes);
    expect(tilesTogether([ground, layer], inputs.strokes, two, [1001, 1002])).toEqual([[1001, 1002]]);
    expect(tilesTogether([ground, layer], inputsOf(strokes.slice(0, 1)).strokes, two, [1001, 1002])).toHaveLength(2);
    const composed = async (surface: LayeredSurface, tiles: number[], width: number) => {
      const places = tiles.map((number) => {
        const tile = layeredTile(surface, number, { width, height: 256 });
        return { tile, inputs, options: { doBlocks: onThisThread(tile, 'seen') } };
      });
      const planes = await composeTiles({ mixing: 'seen', layers: [ground, layer] }, ['roughness'], places);
      return planes.map(({ channels }) => channels.roughness!);
    };
    const [whole] = await composed(one, [1001], 256);
    const halves = await composed(two, [1001, 1002], 128);
    let most = 0;
    let right = 0;
    for (let at = 0; at < whole!.length; at++) {
      const [x, y] = [at % 256, Math.floor(at / 256)];
      const own = halves[x < 128 ? 0 : 1]![y * 128 + (x % 128)]!;
      most = Math.max(most, Math.abs(own - whole![at]!));
      if (x >= 128) right = Math.max(right, own);
    }
    expect(most).toBeLessThan(1e-4);
    expect(right).toBeGreaterThan(0.3);
  });
});
