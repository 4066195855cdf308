import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { composed, layerBase, NO_INPUTS } from '../../testing/layers.ts';
import { reliefPlane } from '../../testing/shapes.ts';
import { BLEND_MODES } from '../../image/blend.ts';
import type { LayerChannel } from '../channels.ts';
import { PLAIN_SHAPING, type Layer, type LayerMask } from '../stack.ts';
import { layeredMeshes, layeredTile } from '../surface/layeredSurface.ts';
import { histogramOf, layersBeneath } from './histogramOf.ts';
import { sectionOf } from './section.ts';

/** A square of 100 mm about the origin that faces up. */
const square = layeredMeshes([reliefPlane('square', 4, 50)], 0, 1);
const SIDE = 48;
const CHANNELS = ['basecolor', 'roughness', 'metallic', 'height'] as const satisfies LayerChannel[];

/** Right of a place along x, fading over some millimetres. */
const rightOf = (from: number, over: number): LayerMask => ({
  steps: [{ combine: 'multiply', invert: false, strength: 1, measure: 'axis', axis: [1, 0, 0], from, to: from + over }],
  shaping: PLAIN_SHAPING,
});
const EVERYWHERE: LayerMask = { steps: [], shaping: PLAIN_SHAPING };

const share = fc.double({ min: 0, max: 1, noNaN: true });
const color = fc.integer({ min: 0, max: 0xffffff }).map((value) => `#${value.toString(16).padStart(6, '0')}`);
let number = 0;
const plain: fc.Arbitrary<Layer> = fc
  .record({
    opacity: share,
    blend: fc.constantFrom(...BLEND_MODES),
    heightBlend: fc.constantFrom('add' as const, 'replace' as const),
    mask: fc.oneof(
      fc.constant(EVERYWHERE),
      fc.double({ min: -60, max: 60, noNaN: true }).map((from) => rightOf(from, 20)),
    ),
    values: fc.record({ basecolor: color, roughness: share, metallic: share, height: share }),
  })
  .map(({ values, ...change }) => ({ ...layerBase(`layer ${number++}`), ...change, content: 'plain', values }));

const mapsOf = async (layers: readonly Layer[]): Promise<Float32Array[]> => {
  const { channels } = await composed(layers, CHANNELS, square, SIDE);
  return CHANNELS.map((channel) => channels[channel]!);
};

function expectSame(one: readonly Float32Array[], other: readonly Float32Array[], within: number): void {
  one.forEach((plane, k) => {
    let most = 0;
    for (let i = 0; i < plane.length; i++) most = Math.max(most, Math.abs(plane[i]! - other[k]![i]!));
    expect(most, CHANNELS[k]).toBeLessThanOrEqual(within);
  });
}

describe('layers, whatever they are', () => {
  const some = fc.array(plain, { minLength: 1, maxLength: 5 });

  it('leave no trace where they are hidden, see-through or an empty group', async () => {
    await fc.assert(
      fc.asyncProperty(some, plain, fc.nat(5), async (layers, extra, at) => {
        const own = await mapsOf(layers);
        const group: Layer = { ...layerBase('group'), content: 'group', layers: [] };
        for (const traceless of [{ ...extra, visible: false }, { ...extra, opacity: 0 }, group]) {
          expectSame(await mapsOf(layers.toSpliced(at % (layers.length + 1), 0, traceless)), own, 0);
        }
      }),
      { numRuns: 15 },
    );
  });

  it('are in a group that lies normally, everywhere and in full, what they are without it', async () => {
    await fc.assert(
      fc.asyncProperty(some, fc.nat(5), fc.nat(5), async (layers, a, b) => {
        const [from, to] = [Math.min(a, b) % layers.length, (Math.max(a, b) % layers.length) + 1];
        const within = layers.slice(Math.min(from, to), Math.max(from, to));
        const group: Layer = { ...layerBase('group'), content: 'group', layers: within };
        const grouped = layers.toSpliced(Math.min(from, to), within.length, group);
        expectSame(await mapsOf(grouped), await mapsOf(layers), 1e-6);
      }),
      { numRuns: 15 },
    );
  });

  it('lie half as strongly by half their opacity as by a mask of a half', async () => {
    await fc.assert(
      fc.asyncProperty(plain, plain, share, async (ground, layer, strength) => {
        const half: LayerMask = {
          steps: [
            { combine: 'replace', invert: false, strength, measure: 'axis', axis: [1, 0, 0], from: -900, to: -800 },
          ],
          shaping: PLAIN_SHAPING,
        };
        const full: Layer = { ...layer, opacity: 1, mask: EVERYWHERE };
        const [byOpacity, byMask] = [
          { ...full, opacity: strength },
          { ...full, mask: half },
        ];
        expectSame(await mapsOf([ground, byOpacity]), await mapsOf([ground, byMask]), 1e-6);
      }),
      { numRuns: 20 },
    );
  });

  it('may lie in either order where they do not meet', async () => {
    await fc.assert(
      fc.asyncProperty(plain, plain, plain, async (ground, one, other) => {
        const left: Layer = { ...one, mask: { ...rightOf(0, 0.001), shaping: { ...PLAIN_SHAPING, invert: true } } };
        const right: Layer = { ...other, mask: rightOf(0, 0.001) };
        expectSame(await mapsOf([ground, left, right]), await mapsOf([ground, right, left]), 1e-6);
      }),
      { numRuns: 15 },
    );
  });
});

describe('a section through layers', () => {
  it('shows each as strongly and in the colour that it has in the map', async () => {
    await fc.assert(
      fc.asyncProperty(plain, share, share, async (layer, u, v) => {
        const shown: Layer = { ...layer, blend: 'normal', mask: rightOf(-50, 100) };
        const tile = layeredTile(square, 1001, { width: SIDE, height: SIDE });
        const triangle = Math.floor(u * (square.receiver.indices.length / 3 - 1e-9));
        const places = { triangles: Uint32Array.of(triangle), weights: Float64Array.of(v / 2, (1 - v) / 2) };
        const [stratum] = sectionOf({ mixing: 'seen', layers: [shown] }, tile, NO_INPUTS, places);
        const { positions, indices } = square.receiver;
        const corner = (k: number): number => positions[indices[triangle * 3 + k]! * 3]!;
        const x = corner(0) / 2 + (corner(1) * v) / 2 + (corner(2) * (1 - v)) / 2;
        expect(stratum!.strength[0]).toBeCloseTo(((x + 50) / 100) * shown.opacity, 4);
        const [ground] = await mapsOf([{ ...shown, opacity: 1, mask: EVERYWHERE }]);
        const middle = (SIDE / 2) * SIDE + SIDE / 2;
        for (let k = 0; k < 3; k++) expect(stratum!.colors![k]).toBeCloseTo(ground![middle * 3 + k]!, 5);
      }),
      { numRuns: 40 },
    );
  });
});

describe('a histogram', () => {
  it('counts every covered texel once, in the bin of its value', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.double({ min: -0.5, max: 1.5, noNaN: true }), fc.boolean()), { minLength: 1 }),
        (texels) => {
          const plane = Float32Array.from(texels, ([value]) => value);
          const states = Uint8Array.from(texels, ([, isCovered]) => (isCovered ? 1 : 0));
          const bins = histogramOf(plane, states, 1);
          expect(bins).toHaveLength(64);
          const expected = new Array<number>(64).fill(0);
          plane.forEach((value, i) => {
            if (states[i]) expected[Math.max(0, Math.min(63, Math.floor(value * 64)))]!++;
          });
          expect(bins).toEqual(expected);
        },
      ),
    );
  });

  it('of colours goes by their luma: ITU-R BT.709, 3.2', () => {
    const colors = [
      [1, 0, 0],
      [0, 1, 0],
      [0, 0, 1],
      [1, 1, 1],
    ];
    const bins = histogramOf(Float32Array.from(colors.flat()), new Uint8Array(4).fill(1), 3);
    expect([0.2126, 0.7152, 0.0722, 0.9999].map((luma) => bins[Math.floor(luma * 64)])).toEqual([1, 1, 1, 1]);
  });

  it('of what lies beneath a layer in a group leaves out what lies above it, there and outside', () => {
    const named = (id: string): Layer => ({ ...layerBase(id), content: 'plain', values: { roughness: 1 } });
    const inner: Layer = { ...layerBase('inner'), content: 'group', layers: [named('c'), named('d'), named('e')] };
    const layers = [
      named('a'),
      { ...layerBase('outer'), content: 'group', layers: [named('b'), inner] } as Layer,
      named('f'),
    ];
    const names = (all: readonly Layer[]): unknown[] =>
      all.map((layer) => (layer.content === 'group' ? [layer.id, names(layer.layers)] : layer.id));
    expect(names(layersBeneath(layers, 'd'))).toEqual(['a', ['outer', ['b', ['inner', ['c']]]]]);
    expect(names(layersBeneath(layers, 'inner'))).toEqual(['a', ['outer', ['b']]]);
    expect(names(layersBeneath(layers, 'outer'))).toEqual(['a']);
    expect(names(layersBeneath(layers, 'nothing of this name'))).toEqual(names(layers));
  });
});
