import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { END_METHODS } from './seamlessSet.ts';
import { keptOf, ownSize, sizeAfterChange } from './ownSize.ts';
import { DEFAULT_TILE } from './tileMaker.ts';

const photograph = { width: 1500, height: 1000 };

describe('the own size of a tile', () => {
  it('is what its ends leave of the photograph', () => {
    expect(ownSize(photograph, DEFAULT_TILE)).toEqual({ width: 1312, height: 875 });
    const none = { ...DEFAULT_TILE.ends.across, method: 'none' as const };
    expect(ownSize(photograph, { ...DEFAULT_TILE, ends: { across: none, up: none } })).toEqual(photograph);
    const mirror = { ...none, method: 'mirror' as const };
    expect(ownSize(photograph, { ...DEFAULT_TILE, ends: { across: mirror, up: none } })).toEqual({
      width: 3000,
      height: 1000,
    });
    const half = [
      [0.25, 0],
      [0.75, 0],
      [0.75, 1],
      [0.25, 1],
    ] as const;
    expect(ownSize(photograph, { ...DEFAULT_TILE, corners: half, way: 'patches' })).toEqual({
      width: 750,
      height: 1000,
    });
  });

  it('leaves proportions and resolution as they are, whatever the way and the picture', () => {
    const size = fc.record({ width: fc.integer({ min: 64, max: 8000 }), height: fc.integer({ min: 64, max: 8000 }) });
    const ends = fc.record({
      method: fc.constantFrom(...END_METHODS),
      width: fc.double({ min: 0.02, max: 0.5, noNaN: true }),
      softness: fc.constant(0.1),
      balance: fc.constant(0.5),
    });
    fc.assert(
      fc.property(size, ends, ends, fc.constantFrom('ends', 'patches'), (picture, across, up, way) => {
        const shape = { ...DEFAULT_TILE, way, ends: { across, up } };
        const own = ownSize(picture, shape);
        fc.pre(Math.max(own.width, own.height) < 8192);
        const { scale } = keptOf(picture, shape, own);
        // One texel more or less, of the shortest side there is here.
        expect(scale.across).toBeCloseTo(1, 1);
        expect(scale.up / scale.across).toBeCloseTo(1, 1);
      }),
    );
  });

  it('follows its frame and ends until another size is asked for', () => {
    const before = { ...DEFAULT_TILE, size: { width: 1312, height: 875 } };
    const wide = { ...before.ends.across, width: 0.25 };
    const after = { ...before, ends: { across: wide, up: wide } };
    expect(sizeAfterChange(photograph, before, after)).toEqual({ width: 1125, height: 750 });
    const asked = { width: 512, height: 512 };
    expect(sizeAfterChange(photograph, before, { ...before, size: asked })).toEqual(asked);
    expect(sizeAfterChange(photograph, { ...before, size: asked }, { ...after, size: asked })).toEqual(asked);
  });

  it('tells how a squashed tile is scaled', () => {
    const { length, scale } = keptOf(photograph, DEFAULT_TILE, { width: 512, height: 512 });
    expect(length).toEqual({ across: 0.875, up: 0.875 });
    expect(scale.across).toBeCloseTo(0.39, 3);
    expect(scale.up).toBeCloseTo(0.585, 3);
  });
});
