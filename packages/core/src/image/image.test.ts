import { describe, expect, it } from 'vitest';
import { histograms } from './histogram.ts';
import { TexelState } from './image.ts';
import { quantise } from './quantise.ts';
import { halve, halveStates } from './filter/halve.ts';
import { linearToSrgb, quickLinearToSrgb, quickSrgbToLinear, srgbToLinear } from '../color/srgb.ts';

describe('the sRGB transfer functions', () => {
  it('give the values of IEC 61966-2-1 and are each other’s inverse', () => {
    expect(linearToSrgb(0.5)).toBeCloseTo(0.735357, 6);
    expect(srgbToLinear(0.5)).toBeCloseTo(0.214041, 6);
    for (let i = 0; i <= 255; i++) expect(linearToSrgb(srgbToLinear(i / 255))).toBeCloseTo(i / 255, 6);
    // The tables for whole pictures, also where the curve is steepest and beyond both ends.
    for (const value of [-0.2, 0, 1e-5, 0.0031, 0.00313082, 0.01, 0.123456, 0.9999, 1, 1.7]) {
      expect(Math.abs(quickLinearToSrgb(value) - linearToSrgb(value))).toBeLessThan(1e-6);
      expect(Math.abs(quickSrgbToLinear(value) - srgbToLinear(value))).toBeLessThan(1e-6);
    }
  });
});

describe('quantising', () => {
  it('rounds half up, clamps, and survives what is not a number', () => {
    const data = Float32Array.of(0, 0.5, 1, -3, 7, NaN);
    expect([...quantise(data, 8)]).toEqual([0, 128, 255, 0, 255, 0]);
    expect([...quantise(data, 16)]).toEqual([0, 32768, 65535, 0, 65535, 0]);
  });
});

describe('halving', () => {
  it('keeps a constant constant at odd sizes, and takes the mean of 2 × 2', () => {
    const constant = { width: 5, height: 3, channels: 2, data: new Float32Array(30).fill(0.3) };
    const half = halve(constant);
    expect([half.width, half.height]).toEqual([3, 2]);
    for (const value of half.data) expect(value).toBeCloseTo(0.3, 6);
    const checker = { width: 2, height: 2, channels: 1, data: Float32Array.of(0, 1, 1, 0) };
    expect([...halve(checker).data]).toEqual([0.5]);
  });

  it('never loses a missed texel', () => {
    const states = new Uint8Array(49).fill(TexelState.covered);
    states[48] = TexelState.missed;
    expect(halveStates(7, 7, states).at(-1)).toBe(TexelState.missed);
  });
});

describe('histograms', () => {
  it('count island texels only', () => {
    const image = { width: 4, height: 1, channels: 1, data: Float32Array.of(0.1, 0.9, 0.9, 5) };
    const states = Uint8Array.of(TexelState.covered, TexelState.missed, TexelState.padding, TexelState.background);
    const [histogram] = histograms(image, states);
    expect(histogram).toMatchObject({
      min: expect.closeTo(0.1, 6) as number,
      max: expect.closeTo(0.9, 6) as number,
      mean: expect.closeTo(0.5, 6) as number,
    });
    expect(histogram!.bins.reduce((sum, count) => sum + count, 0)).toBe(2);
  });
});
