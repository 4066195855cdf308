import { describe, expect, it } from 'vitest';
import { bakeSettings, DEFAULT_BAKE } from '../bake/settings.ts';
import { pairUp, USUAL_ENDINGS } from './matching.ts';

describe('matching by name', () => {
  it('cuts off endings and running numbers, whatever the capitals', () => {
    const receivers = ['Cleat_low', 'shackle_LOW', 'ring light', 'pin_low'];
    const sources = ['cleat_high', 'Cleat_high.001', 'Shackle_high 2', 'Ring dense', 'rope_high'];
    expect(pairUp(receivers, sources, USUAL_ENDINGS)).toEqual({
      groups: [[0, 1], [2], [3]],
      groupOf: [0, 1, 2, null],
      unseen: [4],
    });
  });

  it('lets two receivers share their sources, and keeps numbers that belong to the name', () => {
    const pairing = pairUp(['bolt1_low', 'bolt2_low', 'bolt1_low.002'], ['bolt1_high', 'bolt2_high'], USUAL_ENDINGS);
    expect(pairing.groups).toEqual([[0], [1]]);
    expect(pairing.groupOf).toEqual([0, 1, 0]);
  });

  it('gives each of ten thousand parts its own source', () => {
    const names = (ending: string): string[] => Array.from({ length: 10_000 }, (_, i) => `part ${i}x${ending}`);
    const { groups, groupOf, unseen } = pairUp(names('_low'), names('_high'), USUAL_ENDINGS);
    expect(groups).toEqual(names('').map((_, i) => [i]));
    expect(groupOf).toEqual(names('').map((_, i) => i));
    expect(unseen).toEqual([]);
  });

  it('keeps the space before an ending when the ticket is stored', () => {
    expect(bakeSettings.parse({ ...DEFAULT_BAKE, match: USUAL_ENDINGS }).match).toEqual(USUAL_ENDINGS);
    expect(bakeSettings.safeParse({ ...DEFAULT_BAKE, match: { ...USUAL_ENDINGS, sourceEndings: [' '] } }).success).toBe(
      false,
    );
  });

  it('is everything with everything unless asked for', () => {
    expect(pairUp(['a', 'b'], ['c', 'd'], 'all')).toEqual({ groups: [[0, 1]], groupOf: [0, 0], unseen: [] });
  });
});
