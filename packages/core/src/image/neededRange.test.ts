import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { inHeights } from './heights.ts';
import type { Image } from './image.ts';
import { withNeededRange } from './neededRange.ts';

const numbers = (...data: number[]): Image => ({
  width: data.length,
  height: 1,
  channels: 1,
  data: Float32Array.from(data),
});

describe('the range that numbers need', () => {
  it('is from the least to the greatest where 0 to 1 is not enough', () => {
    expect(withNeededRange('height', numbers(-0.5, 0.25, 2)).range).toEqual([-0.5, 2]);
    expect(withNeededRange('roughness', numbers(0, 1)).range).toBeUndefined();
    expect(withNeededRange('height', numbers(3, 3)).range).toEqual([0, 3]);
  });

  it('is left as somebody has said, and colours and directions as they are', () => {
    const said = { ...numbers(-5, 5), range: [0, 1] as const };
    expect(withNeededRange('height', said)).toBe(said);
    const bright = numbers(2, 4, 8);
    expect(withNeededRange('basecolor', bright)).toBe(bright);
    expect(withNeededRange('normal', bright)).toBe(bright);
  });

  it('leaves heights what they are, whatever their middle and span', () => {
    const value = fc.double({ min: -50, max: 50, noNaN: true });
    fc.assert(
      fc.property(
        fc.array(value, { minLength: 2, maxLength: 8 }),
        value,
        fc.double({ min: 0.1, max: 9, noNaN: true }),
        (data, mid, span) => {
          const image: Image = { ...numbers(...data), convention: { of: 'height', unit: 'mm', mid, span } };
          const [before, after] = [image, withNeededRange('height', image)].map((each) => inHeights(each).data);
          before!.forEach((height, i) => expect(after![i]).toBeCloseTo(height, 2));
        },
      ),
    );
  });
});
