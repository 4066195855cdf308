import { converter } from 'culori';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { idColors } from './idColors.ts';
import { LUMINANCE } from './luminance.ts';
import { linearToOklab, oklabToLinear } from './oklab.ts';
import { colorRamp, parseColor } from './ramp.ts';
import { linearToSrgb, quickLinearToSrgb, quickSrgbToLinear, screenByte, srgbToLinear } from './srgb.ts';

const share = fc.double({ min: 0, max: 1, noNaN: true });

describe('the sRGB curve (IEC 61966-2-1)', () => {
  it('is that of culori', () => {
    const toLinear = converter('lrgb');
    fc.assert(
      fc.property(share, (value) => {
        expect(srgbToLinear(value)).toBeCloseTo(toLinear({ mode: 'rgb', r: value, g: 0, b: 0 }).r, 12);
      }),
    );
  });

  it('there and back is the same, grows, and its tables are off by less than 1e-6', () => {
    fc.assert(
      fc.property(share, share, (a, b) => {
        expect(srgbToLinear(linearToSrgb(a))).toBeCloseTo(a, 7);
        if (a < b) expect(linearToSrgb(a)).toBeLessThanOrEqual(linearToSrgb(b));
        expect(Math.abs(quickLinearToSrgb(a) - linearToSrgb(a))).toBeLessThan(1e-6);
        expect(Math.abs(quickSrgbToLinear(a) - srgbToLinear(a))).toBeLessThan(1e-6);
      }),
      { numRuns: 2000 },
    );
  });

  it('as a byte on screen is off by one at most, and black for what is no light', () => {
    fc.assert(
      fc.property(share, (value) => {
        expect(Math.abs(screenByte(value) - Math.round(255 * linearToSrgb(value)))).toBeLessThanOrEqual(1);
      }),
    );
    expect([NaN, -1, 0, 1, 7, Infinity].map(screenByte)).toEqual([0, 0, 0, 255, 255, 255]);
  });

  it('weighs the primaries so that white is one (ITU-R BT.709)', () => {
    expect(LUMINANCE.reduce((sum, weight) => sum + weight, 0)).toBeCloseTo(1, 12);
  });
});

describe('OKLab (Ottosson 2020)', () => {
  it('there and back is the same', () => {
    fc.assert(
      fc.property(share, share, share, (r, g, b) => {
        const back = oklabToLinear(linearToOklab(r, g, b));
        [r, g, b].forEach((value, k) => expect(Math.abs(back[k]! - value)).toBeLessThan(1e-6));
      }),
    );
  });

  it('has white at lightness one and greys without colour', () => {
    fc.assert(
      fc.property(share, (value) => {
        const [L, a, b] = linearToOklab(value, value, value);
        expect(L).toBeCloseTo(Math.cbrt(value), 6);
        expect(Math.hypot(a, b)).toBeLessThan(1e-6);
      }),
    );
  });
});

describe('colours of pieces', () => {
  it('are the same for a number every time, can be shown, and lie apart', () => {
    const colors = idColors(64);
    expect(idColors(10)).toEqual(colors.slice(0, 30));
    for (const value of colors) expect(value >= 0 && value <= 1).toBe(true);
    for (let i = 0; i < 16; i++) {
      for (let j = 0; j < i; j++) {
        const [a, b] = [i, j].map((n) => linearToOklab(colors[n * 3]!, colors[n * 3 + 1]!, colors[n * 3 + 2]!));
        expect(Math.hypot(...a!.map((value, k) => value - b![k]!)), `${i} and ${j}`).toBeGreaterThan(0.02);
      }
    }
  });
});

describe('a colour ramp', () => {
  const at = (stops: { at: number; color: string }[], value: number): number[] => {
    const out = new Float32Array(4);
    colorRamp(stops)(value, out, 1);
    expect(out[0]).toBe(0);
    return [...out.subarray(1)];
  };
  const near = (a: number[], b: number[]): void => a.forEach((value, k) => expect(value).toBeCloseTo(b[k]!, 5));

  it('goes through its stops in any order, and stays beyond the first and the last', () => {
    const stops = [
      { at: 1, color: '#ffffff' },
      { at: 0.25, color: '#804020' },
    ];
    near(at(stops, 0.25), parseColor('#804020'));
    near(at(stops, -3), parseColor('#804020'));
    near(at(stops, 1), [1, 1, 1]);
    near(at(stops, 9), [1, 1, 1]);
  });

  it('mixes in OKLab: half way from black to white has half the lightness', () => {
    const [grey] = at(
      [
        { at: 0, color: '#000000' },
        { at: 1, color: '#ffffff' },
      ],
      0.5,
    );
    expect(grey).toBeCloseTo(0.125, 5);
  });

  it('of stops at one place jumps there', () => {
    const stops = [
      { at: 0.5, color: '#000000' },
      { at: 0.5, color: '#ffffff' },
    ];
    expect(at(stops, 0.499)[0]).toBe(0);
    expect(at(stops, 0.501)[0]).toBeCloseTo(1, 5);
  });

  it('reads colours with and without their mark, and refuses what is none in words', () => {
    expect(parseColor('#FFffFF')).toEqual([1, 1, 1]);
    expect(parseColor('000000')).toEqual([0, 0, 0]);
    for (const text of ['#fff', 'red', '', '#12345g'])
      expect(() => parseColor(text)).toThrow(/is not a colour\. Write it as #/);
  });
});
