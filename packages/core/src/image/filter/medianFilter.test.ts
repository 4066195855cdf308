import { describe, expect, it } from 'vitest';
import { randomNumbers } from '../../math/randomNumbers.ts';
import { medianFilter } from './medianFilter.ts';

describe('the median of a square', () => {
  it('is that of all its values (sorted one by one)', () => {
    const random = randomNumbers(6);
    const [width, height, radius] = [19, 13, 3];
    const image = {
      width,
      height,
      channels: 1,
      data: Float32Array.from({ length: width * height }, () => random() * 9),
    };
    const { data } = medianFilter(image, radius);
    const within = (value: number, size: number): number => Math.max(0, Math.min(size - 1, value));
    for (let y = 0; y < height; y++) {
      for (let x = 0; x < width; x++) {
        const values: number[] = [];
        for (let j = -radius; j <= radius; j++) {
          for (let i = -radius; i <= radius; i++) {
            values.push(image.data[within(y + j, height) * width + within(x + i, width)]!);
          }
        }
        values.sort((a, b) => a - b);
        expect(Math.abs(data[y * width + x]! - values[values.length >> 1]!)).toBeLessThan(9 / 512 + 1e-6);
      }
    }
  });

  it('is the value itself where there is but one', () => {
    const level = { width: 5, height: 4, channels: 1, data: new Float32Array(20).fill(2) };
    expect(medianFilter(level, 2).data).toEqual(level.data);
  });
});
