import { describe, expect, it } from 'vitest';
import type { Image } from '@zographos/core/image';
import { tileSeamAlong } from '@zographos/core/seamless';
import { partsOf } from './drawBorders.ts';

describe('marks along a border', () => {
  it('are where it shows, the wider the more, and nowhere else', () => {
    // Slow waves that repeat, but for a step over the border in the lower half of the picture.
    const [width, height] = [96, 96];
    const data = Float32Array.from({ length: width * height }, (_, i) => {
      const [x, y] = [i % width, Math.floor(i / width)];
      return 0.5 + 0.2 * Math.cos((4 * Math.PI * x) / width) + (y >= 48 && x < 3 ? 0.25 : 0);
    });
    const image: Image = { width, height, channels: 1, data };
    const parts = partsOf(tileSeamAlong(image, 'across'));
    expect(parts).toHaveLength(48);
    for (const wide of parts.slice(0, 23)) expect(wide).toBe(0);
    for (const wide of parts.slice(25)) expect(wide).toBeGreaterThan(4);
  });

  it('are nothing up to the jumps within, and no wider than ten pixels, however large the jump', () => {
    const wide = (jump: number): number => partsOf(new Float32Array(48).fill(jump))[0]!;
    expect([0, 1, 1.3].map(wide)).toEqual([0, 0, 0]);
    expect(wide(1.31)).toBeGreaterThan(2);
    expect(wide(3)).toBeLessThan(wide(4));
    expect([5, 50, Infinity].map(wide)).toEqual([10, 10, 10]);
  });

  it('are one for each place of a short border', () => {
    expect(partsOf(new Float32Array(7).fill(9))).toHaveLength(7);
    expect(partsOf(new Float32Array(0))).toEqual([]);
  });
});
