import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { NO_INPUTS } from '../../testing/layers.ts';
import { reliefPlane } from '../../testing/shapes.ts';
import { MASK_COMBINES, PLAIN_SHAPING, type LayerMask, type MaskCombine, type MaskStep } from '../stack.ts';
import { layeredMeshes, layeredTile } from '../surface/layeredSurface.ts';
import { TEXELS, TexelBlock } from '../surface/texelBlock.ts';
import { layerMask, maskSteps } from './layerMask.ts';

/** A square of 100 mm about the origin. */
const tile = layeredTile(layeredMeshes([reliefPlane('square', 2, 50)], 0, 1), 1001, { width: 64, height: 64 });
const block = new TexelBlock(tile);
block.load(0);

const share = fc.double({ min: 0, max: 1, noNaN: true });
/** Steps along the axes x and y, so that each texel has another pair of values. */
const step = fc.record({
  combine: fc.constantFrom(...MASK_COMBINES),
  invert: fc.boolean(),
  strength: share,
  axis: fc.constantFrom<[number, number, number]>([1, 0, 0], [0, 1, 0], [-1, 0, 0]),
  from: fc.double({ min: -60, max: 0, noNaN: true }),
  to: fc.double({ min: 1, max: 60, noNaN: true }),
});

/** As layers.md says: what is laid onto a mask, written out. */
const COMBINED: Record<MaskCombine, (m: number, v: number) => number> = {
  multiply: (m, v) => m * v,
  add: (m, v) => m + v,
  subtract: (m, v) => m - v,
  least: (m, v) => (m < v ? m : v),
  most: (m, v) => (m > v ? m : v),
  // Of what neither covers: 1 − (1 − m)(1 − v).
  screen: (m, v) => 1 - (1 - m) * (1 - v),
  replace: (_m, v) => v,
};
const clamped = (value: number): number => Math.max(0, Math.min(1, value));

function valuesOf(mask: LayerMask): Float32Array {
  const out = new Float32Array(TEXELS).fill(1);
  maskSteps(mask, tile, NO_INPUTS)?.(block, out);
  return out.subarray(0, block.count);
}

describe('the steps of a mask', () => {
  it('are laid onto each other by their formulas, as strongly as they say, and stay within 0 to 1', () => {
    fc.assert(
      fc.property(fc.array(step, { minLength: 1, maxLength: 5 }), (steps) => {
        const values = valuesOf({
          steps: steps.map((each) => ({ ...each, measure: 'axis' }) satisfies MaskStep),
          shaping: PLAIN_SHAPING,
        });
        for (let i = 0; i < values.length; i += 97) {
          let expected = ['add', 'most', 'screen', 'replace'].includes(steps[0]!.combine) ? 0 : 1;
          for (const { axis, from, to, combine, invert, strength } of steps) {
            const along = block.places[0][i]! * axis[0] + block.places[1][i]! * axis[1];
            const plain = clamped((along - from) / (to - from));
            const combined = COMBINED[combine](expected, invert ? 1 - plain : plain);
            expected = clamped(expected + (combined - expected) * strength);
          }
          expect(values[i]).toBeCloseTo(expected, 5);
        }
      }),
      { numRuns: 200 },
    );
  });

  it('that do not count at all leave the mask as it was', () => {
    const bare = valuesOf({ steps: [], shaping: PLAIN_SHAPING });
    expect(bare.every((value) => value === 1)).toBe(true);
    for (const combine of MASK_COMBINES) {
      const none = {
        combine,
        invert: false,
        strength: 0,
        measure: 'axis',
        axis: [1, 0, 0],
        from: -50,
        to: 50,
      } as const;
      const before = { ...none, combine: 'multiply', strength: 1 } as const;
      const [alone, with0] = [[before], [before, none]].map((steps) => valuesOf({ steps, shaping: PLAIN_SHAPING }));
      expect(with0, combine).toEqual(alone);
    }
  });
});

describe('the shaping of a mask', () => {
  const ramp = {
    combine: 'multiply',
    invert: false,
    strength: 1,
    measure: 'axis',
    axis: [1, 0, 0],
    from: -50,
    to: 50,
  } as const;

  it('stretches what lies between its levels, turns contrast about the middle, and inverts last', () => {
    fc.assert(
      fc.property(
        share,
        share,
        fc.double({ min: 0.2, max: 8, noNaN: true }),
        fc.boolean(),
        (a, b, contrast, invert) => {
          const [low, high] = [Math.min(a, b), Math.max(a, b)];
          fc.pre(high - low > 0.01);
          const shaping = { ...PLAIN_SHAPING, levels: [low, high], contrast, invert } as const;
          const out = new Float32Array(TEXELS);
          layerMask({ id: 'x', mask: { steps: [ramp], shaping } }, tile, NO_INPUTS)!(block, out);
          for (let i = 0; i < block.count; i += 101) {
            const value = clamped((block.places[0][i]! + 50) / 100);
            const stretched = clamped((value - low) / (high - low));
            const turned = clamped((stretched - 0.5) * contrast + 0.5);
            expect(out[i]).toBeCloseTo(invert ? 1 - turned : turned, 4);
          }
        },
      ),
      { numRuns: 60 },
    );
  });

  it('of a mask without steps inverts to nowhere', () => {
    const out = new Float32Array(TEXELS).fill(0.5);
    expect(layerMask({ id: 'x', mask: { steps: [], shaping: PLAIN_SHAPING } }, tile, NO_INPUTS)).toBeNull();
    layerMask({ id: 'x', mask: { steps: [], shaping: { ...PLAIN_SHAPING, invert: true } } }, tile, NO_INPUTS)!(
      block,
      out,
    );
    expect(out.subarray(0, block.count).every((value) => value === 0)).toBe(true);
  });
});
