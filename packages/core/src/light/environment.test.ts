import { describe, expect, it } from 'vitest';
import type { Image } from '../image/image.ts';
import { environmentOf, SKIES, skyPicture } from './environment.ts';

const picture = (width: number, height: number, of: (x: number, y: number) => number): Image => ({
  ...{ width, height, channels: 3 },
  data: Float32Array.from({ length: width * height * 3 }, (_, i) => {
    const texel = Math.floor(i / 3);
    return of(texel % width, Math.floor(texel / width));
  }),
});

describe('an environment', () => {
  it.each([
    [NaN, 'no number'],
    [-0.5, 'light below 0'],
    [Infinity, 'endless light'],
  ])('of %f is refused with its place', (value, what) => {
    const wrong = picture(4, 2, (x, y) => (x === 2 && y === 1 ? value : 1));
    expect(() => environmentOf(wrong)).toThrow(`has ${what} at 2, 1`);
  });

  it('that is black is refused', () => {
    expect(() => environmentOf(picture(4, 2, () => 0))).toThrow('black all over');
  });
});

describe('skies', () => {
  it.each(SKIES)('%s gives a level surface an irradiance of π', (sky) => {
    const { width, height, data } = skyPicture(sky);
    let sum = 0;
    for (let y = 0; y < height / 2; y++) {
      const [above, below] = [Math.cos((y * Math.PI) / height), Math.cos(((y + 1) * Math.PI) / height)];
      for (let x = 0; x < width; x++) {
        const at = (y * width + x) * 3;
        const light = (data[at]! + data[at + 1]! + data[at + 2]!) / 3;
        sum += (light * (((2 * Math.PI) / width) * (above ** 2 - below ** 2))) / 2;
      }
    }
    expect(Math.abs(sum / Math.PI - 1)).toBeLessThan(0.002);
  });

  it('overcast is three times as bright at the zenith as at the horizon (CIE S 011, Moon and Spencer 1942)', () => {
    const { width, height, data } = skyPicture('overcast');
    const zenith = data[0]!;
    const horizon = data[(height / 2 - 1) * width * 3]!;
    expect(zenith / horizon).toBeGreaterThan(2.9);
    expect(zenith / horizon).toBeLessThan(3);
  });

  it('clear is brightest about its sun, and bluer away from it', () => {
    const { width, data } = skyPicture('clear', { elevation: 30, azimuth: 90 });
    let brightest = 0;
    for (let i = 0; i < data.length; i += 3) if (data[i]! > data[brightest]!) brightest = i;
    const texel = brightest / 3;
    expect(Math.abs((texel % width) / width - 0.75)).toBeLessThan(0.03);
    expect(Math.abs(90 - (Math.floor(texel / width) / 128) * 180 - 30)).toBeLessThan(8);
    const away = (40 * width + Math.round(width / 4)) * 3;
    expect(data[away + 2]! / data[away]!).toBeGreaterThan(data[brightest + 2]! / data[brightest]!);
  });
});
