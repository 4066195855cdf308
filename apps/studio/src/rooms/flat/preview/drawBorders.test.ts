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
    expect(Math.max(...partsOf(tileSeamAlong(image, 'up')))).toBeLessThanOrEqual(10);
    // A jump where nothing else changes at all is drawn at its widest, and does not run away.
    const bare: Image = { ...image, data: image.data.map((_, i) => (i % width === 0 ? 1 : 0)) };
    expect(partsOf(tileSeamAlong({ ...bare, width: 96 }, 'across')).every((wide) => wide <= 10)).toBe(true);
  });
});
