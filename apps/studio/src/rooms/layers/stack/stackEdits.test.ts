import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { everyLayer, layerById, type Layer } from '@zographos/core/layers';
import { made, likelyLayers } from '../adding/newLayers.ts';
import { changed, copyOf, grouped, insertedAbove, moved, movedAbove, removed } from './stackEdits.ts';

const plain = (id: string): Layer => made({ id, name: id, content: 'plain', values: { roughness: 0.5 } });
const group = (id: string, ...layers: Layer[]): Layer & { content: 'group' } =>
  made({ id, name: id, content: 'group', layers }) as Layer & { content: 'group' };
const ids = (layers: readonly Layer[]): string =>
  layers.map((layer) => (layer.content === 'group' ? `${layer.id}(${ids(layer.layers)})` : layer.id)).join(' ');

const stack = [plain('a'), group('g', plain('b'), plain('c')), plain('d')];

describe('a list of layers', () => {
  it('finds, changes, adds and removes layers wherever they lie', () => {
    expect(layerById(stack, 'c')?.name).toBe('c');
    expect(layerById(stack, 'x')).toBeUndefined();
    expect(
      layerById(
        changed(stack, 'b', (layer) => ({ ...layer, name: 'B' })),
        'b',
      )?.name,
    ).toBe('B');
    expect(ids(insertedAbove(stack, 'b', plain('x')))).toBe('a g(b x c) d');
    expect(ids(insertedAbove(stack, null, plain('x')))).toBe('a g(b c) d x');
    expect(ids(insertedAbove(stack, 'gone', plain('x')))).toBe('a g(b c) d x');
    expect(ids(removed(stack, 'c'))).toBe('a g(b) d');
    expect(ids(grouped(stack, 'd', group('h')))).toBe('a g(b c) h(d)');
    expect(ids(stack)).toBe('a g(b c) d');
  });

  it('moves layers past each other, into groups and out of them', () => {
    expect(ids(moved(stack, 'a', 1))).toBe('g(a b c) d');
    expect(ids(moved(stack, 'd', -1))).toBe('a g(b c d)');
    expect(ids(moved(stack, 'b', 1))).toBe('a g(c b) d');
    expect(ids(moved(stack, 'b', -1))).toBe('a b g(c) d');
    expect(ids(moved(stack, 'c', 1))).toBe('a g(b) c d');
    expect(ids(moved(stack, 'a', -1))).toBe('a g(b c) d');
    expect(ids(movedAbove(stack, 'a', 'b'))).toBe('g(b a c) d');
    expect(ids(movedAbove(stack, 'c', null))).toBe('a g(b) d c');
    // A group cannot be put into itself.
    expect(ids(movedAbove(stack, 'g', 'b'))).toBe('a g(b c) d');
  });

  it('keeps every layer exactly once, however often layers are moved', () => {
    const step = fc.tuple(fc.constantFrom('a', 'b', 'c', 'd', 'g'), fc.constantFrom(1 as const, -1 as const));
    fc.assert(
      fc.property(fc.array(step, { maxLength: 40 }), (steps) => {
        let layers: Layer[] = stack;
        for (const [id, by] of steps) layers = moved(layers, id, by);
        expect([...everyLayer(layers)].map(({ id }) => id).sort()).toEqual(['a', 'b', 'c', 'd', 'g']);
      }),
    );
  });

  it('copies a group with ids of its own throughout', () => {
    let next = 0;
    const copy = copyOf(stack[1]!, () => `n${next++}`);
    expect(copy.name).toBe('g, copy');
    expect(ids([copy])).toBe('n0(n1 n2)');
  });
});

describe('what may be laid on next', () => {
  it('is taken by the schema, at the size of the receiver', () => {
    const small = likelyLayers(['iron', 'wood'], [], ['normal'], [0, 10], true);
    expect(small.map(({ title }) => title)).toEqual(
      expect.arrayContaining(['Maps of the set', 'Worn edges', 'Colour of “wood”', 'Harbour brass', 'Group']),
    );
    const radius = (layers: typeof small): number => {
      const { layer } = layers.find(({ title }) => title === 'Worn edges')!;
      const [step] = layer.mask.steps;
      return step?.measure === 'wear' ? step.radius : 0;
    };
    expect(radius(likelyLayers([], [], [], [0, 1000], false)) / radius(small)).toBeGreaterThan(50);
  });
});
