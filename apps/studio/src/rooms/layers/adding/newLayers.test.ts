import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { channelsOf, everyLayer, type MaskStep } from '@zographos/core/layers';
import { layer as layerSchema, layerSentence } from '@zographos/operations';
import { fullProject } from '../../../testing/fullProject.ts';
import { withNewIds } from '../stack/stackEdits.ts';
import { likelyLayers, newId, newStack, tilingPaint, type NewLayer } from './newLayers.ts';

const sets = fullProject().imageSets.filter(({ receiverId }) => receiverId === null);
const offersOf = (size: number): NewLayer[] => likelyLayers(['hull', 'deck'], sets, ['basecolor'], [0, size], true);
const stepsOf = (offers: readonly NewLayer[]): MaskStep[] =>
  offers.flatMap(({ layer, title }) => (layer.content === 'group' || title === '' ? [] : layer.mask.steps));

describe('what is offered as the next layer', () => {
  it('is whole for things of any size: each is a layer as it would be kept, and reads as a sentence', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 1e-3, max: 1e5, noNaN: true }),
        fc.double({ min: -1e5, max: 1e5, noNaN: true }),
        // Blank ones and very long ones too.
        fc.uniqueArray(fc.string({ minLength: 1, maxLength: 420, size: 'max' }), { maxLength: 12 }),
        fc.boolean(),
        (size, low, slots, hasImages) => {
          const offers = likelyLayers(slots, sets, ['basecolor'], [low, low + size], hasImages);
          for (const { layer, hint } of offers) {
            expect(layerSchema.parse(JSON.parse(JSON.stringify(layer)))).toEqual(layer);
            const names = { materials: sets.map(({ name }) => name), pictures: ['Letters'] };
            const sentence = layerSentence(layer, names).map(({ text }) => text);
            expect(sentence.join('')).toMatch(/^[A-Z][^]* at \d+ %\.$/);
            expect(hint).not.toBe('');
          }
          const titles = offers.map(({ title }) => title);
          expect(titles.filter((title, i) => titles.indexOf(title) !== i)).toEqual([]);
          expect(offers.some(({ picture }) => picture === 'image')).toBe(hasImages);
          // Of many slots, no more than can be looked through.
          const ofSlots = stepsOf(offers).filter(({ measure }) => measure === 'slot');
          expect(ofSlots).toHaveLength(
            slots.length > 1 ? Math.min(6, slots.filter(({ length }) => length <= 400).length) : 0,
          );
        },
      ),
      { numRuns: 40 },
    );
  });

  it('goes by real lengths: on a thing ten times as large, all are ten times as long', () => {
    const lengths = (size: number): Map<string, number> => {
      const found = new Map<string, number>();
      stepsOf(offersOf(size)).forEach((step, i) => {
        for (const name of [
          'radius',
          'level',
          'band',
          'ragged',
          'raggedSize',
          'width',
          'wanderSize',
          'reach',
          'roughSize',
        ] as const) {
          const value = (step as Partial<Record<typeof name, unknown>>)[name];
          if (typeof value === 'number') found.set(`${i} ${step.measure} ${name}`, value);
        }
      });
      return found;
    };
    const [small, large] = [lengths(300), lengths(3000)];
    expect(small.size).toBeGreaterThan(6);
    for (const [name, value] of small) expect(large.get(name)! / value, name).toBeCloseTo(10, 0);
  });

  it('can be laid on again and again: no two layers of a stack get one name', () => {
    const all = [...offersOf(300), ...offersOf(300)].map(({ layer }) => withNewIds(layer, newId));
    const ids = [...everyLayer(all)].map(({ id }) => id);
    expect(new Set(ids).size).toBe(ids.length);
  });
});

describe('a flat set', () => {
  it('is laid on and painted with in the channels that it has maps for; of none, in base colour', () => {
    const stone = sets.find(({ name }) => name === 'Harbour stone')!;
    // Its height has not been made yet.
    expect(tilingPaint(stone).channels).toEqual(['basecolor']);
    const bare = { ...stone, maps: [] };
    expect(tilingPaint(bare).channels).toEqual(['basecolor']);
    const offer = offersOf(300).find(({ material }) => material?.id === stone.id)!;
    expect(channelsOf(offer.layer)).toEqual(['basecolor']);
  });
});

describe('a new stack', () => {
  it('begins with what is baked, or with nothing', () => {
    const size = { width: 512, height: 256 };
    expect(newStack(size, [])).toMatchObject({ size, tiles: 'all', layers: [] });
    expect(newStack(size, ['normal', 'height']).layers).toMatchObject([
      { content: 'maps', channels: ['normal', 'height'], opacity: 1 },
    ]);
  });
});
