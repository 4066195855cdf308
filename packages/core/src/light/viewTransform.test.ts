import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { linearToSrgb } from '../color/srgb.ts';
import { forScreen, screenBytes, VIEW_TRANSFORMS } from './viewTransform.ts';

const grey = (...values: number[]) => ({
  width: values.length,
  height: 1,
  channels: 1,
  data: Float32Array.from(values),
});

describe('light on a screen', () => {
  it('is what the published curve gives: black 0, and white as the paper’s formula has it', () => {
    // Hejl and Burgess-Dawson (2010): for x = 1 − 0.004 the screen shows 6.674…/7.903….
    const x = 1 - 0.004;
    const screen = (x * (6.2 * x + 0.5)) / (x * (6.2 * x + 1.7) + 0.06);
    const { data } = forScreen(grey(0, 1, 1e9), 'filmic', 0);
    expect(data[0]).toBe(0);
    expect(linearToSrgb(data[1]!)).toBeCloseTo(screen, 5);
    expect(data[2]).toBeCloseTo(1, 5);
    expect([...forScreen(grey(0.25, 3), 'srgb', 1).data]).toEqual([0.5, 1]);
  });

  it.each(VIEW_TRANSFORMS)('%s: bytes are those of the picture, to one step, for all light and exposures', (view) => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 1e6, noNaN: true }),
        fc.double({ min: -8, max: 8, noNaN: true }),
        (value, exposure) => {
          const exact = linearToSrgb(forScreen(grey(value), view, exposure).data[0]!) * 255;
          expect(Math.abs(screenBytes(grey(value), { view, exposure })[0]! - exact)).toBeLessThanOrEqual(1);
        },
      ),
    );
  });

  it('shows one channel in grey, and what is no light black', () => {
    const image = { channels: 3, data: Float32Array.from([1, 0, 0.5, -1, Number.NaN, Infinity]) };
    const look = { view: 'srgb', exposure: 0 } as const;
    expect([...screenBytes(image, look)]).toEqual([255, 0, 188, 255, 0, 0, 255, 255]);
    expect([...screenBytes(image, look, 1)]).toEqual([0, 0, 0, 255, 0, 0, 0, 255]);
  });
});
