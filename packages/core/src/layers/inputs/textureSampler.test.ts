import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Image } from '../../image/image.ts';
import { wrapped, type Wrap } from '../../image/sample.ts';
import { randomNumbers } from '../../testing/shapes.ts';
import { TEXELS } from '../surface/texelBlock.ts';
import { SamplePlaces, TextureSampler } from './textureSampler.ts';

function picture(width: number, height: number, channels: number): Image {
  const random = randomNumbers(width * 31 + height * 7 + channels);
  return { width, height, channels, data: Float32Array.from({ length: width * height * channels }, () => random()) };
}

/** Between four texels, by the weights of bilinear interpolation written out. */
function between({ width, height, channels, data }: Image, u: number, v: number, wrap: Wrap, channel: number): number {
  const [x, y] = [u * width - 0.5, (1 - v) * height - 0.5];
  const [left, top] = [Math.floor(x), Math.floor(y)];
  let sum = 0;
  for (const [dx, dy] of [
    [0, 0],
    [1, 0],
    [0, 1],
    [1, 1],
  ] as const) {
    const weight = Math.abs(1 - dx - (x - left)) * Math.abs(1 - dy - (y - top));
    const at = wrapped(top + dy, height, wrap) * width + wrapped(left + dx, width, wrap);
    sum += data[at * channels + channel]! * weight;
  }
  return sum;
}

function sampled(levels: Image[], wrap: Wrap, at: readonly (readonly [number, number])[], footprint = 0): Float32Array {
  const places = new SamplePlaces();
  at.forEach(([u, v], i) => {
    places.u[i] = u;
    places.v[i] = v;
  });
  places.moved();
  const out = new Float32Array(TEXELS * 4);
  new TextureSampler(levels, wrap).sample(places, at.length, footprint, out);
  return out;
}

const WRAPS = ['repeat', 'clamp', 'mirror'] as const satisfies Wrap[];
const place = fc.tuple(fc.double({ min: 0, max: 1, noNaN: true }), fc.double({ min: 0, max: 1, noNaN: true }));

describe('a texture that is looked up', () => {
  it('lies between its four nearest texels, for any number of channels, over its borders too', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 9 }),
        fc.integer({ min: 1, max: 9 }),
        fc.integer({ min: 1, max: 4 }),
        fc.constantFrom(...WRAPS),
        fc.array(place, { minLength: 1, maxLength: 8 }),
        (width, height, channels, wrap, at) => {
          const image = picture(width, height, channels);
          const out = sampled([image], wrap, at);
          for (const [i, [u, v]] of at.entries()) {
            for (let k = 0; k < channels; k++) {
              expect(out[k * TEXELS + i]).toBeCloseTo(between(image, u, v, wrap, k), 5);
            }
          }
        },
      ),
      { numRuns: 150 },
    );
  });

  it('is its texels at their middles, and the same a whole tile away', () => {
    const image = picture(5, 3, 3);
    for (const [x, y] of [
      [0, 0],
      [4, 2],
      [2, 1],
    ] as const) {
      const [u, v] = [(x + 0.5) / 5, 1 - (y + 0.5) / 3];
      const out = sampled([image], 'repeat', [
        [u, v],
        [u + 2, v - 3],
      ]);
      for (let k = 0; k < 3; k++) {
        expect(out[k * TEXELS]).toBeCloseTo(image.data[(y * 5 + x) * 3 + k]!, 6);
        expect(out[k * TEXELS + 1]).toBeCloseTo(out[k * TEXELS]!, 5);
      }
    }
  });

  it('is taken from the levels of its pyramid just smaller and just larger than what a place stands for', () => {
    // A level of one value each: 0, 1, 2 and 3, of 8, 4, 2 and 1 texels.
    const levels = [8, 4, 2, 1].map((side, value) => ({
      ...{ width: side, height: side, channels: 1 },
      data: new Float32Array(side * side).fill(value),
    }));
    for (const [texels, level] of [
      [0, 0],
      [0.5, 0],
      [1, 0],
      [2, 1],
      [Math.SQRT2 * 2, 1.5],
      [8, 3],
      [100, 3],
    ] as const) {
      expect(sampled(levels, 'repeat', [[0.3, 0.6]], texels / 8)[0], `${texels} texels`).toBeCloseTo(level, 6);
    }
  });

  it('is looked up anew where places have moved, and once for all maps of a size', () => {
    const [first, second] = [picture(4, 4, 1), picture(4, 4, 1)];
    second.data.reverse();
    const places = new SamplePlaces();
    const out = new Float32Array(TEXELS);
    for (const u of [0.125, 0.625]) {
      places.u[0] = u;
      places.v[0] = 0.125;
      places.moved();
      for (const image of [first, second]) {
        new TextureSampler([image], 'clamp').sample(places, 1, 0, out);
        expect(out[0]).toBeCloseTo(image.data[12 + Math.floor(u * 4)]!, 6);
      }
    }
  });
});
