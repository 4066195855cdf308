import { describe, expect, it } from 'vitest';
import { ssim as referenceSsim } from 'ssim.js';
import { prepareReceiver } from '../bake/receiver.ts';
import type { Image } from '../image/image.ts';
import { randomNumbers, sphere } from '../testing/shapes.ts';
import { mendSeams } from './mendSeams.ts';
import { seamError } from './seamError.ts';
import { ssim } from './ssim.ts';

const SIDE = 64;
const ball = prepareReceiver([{ mesh: sphere('ball', 1, 12, 24), group: 0 }], 0);

function image(channels: number, valueAt: (u: number, v: number, c: number) => number): Image {
  const data = new Float32Array(SIDE * SIDE * channels);
  for (let i = 0; i < data.length; i++) {
    const texel = Math.floor(i / channels);
    data[i] = valueAt(((texel % SIDE) + 0.5) / SIDE, 1 - (Math.floor(texel / SIDE) + 0.5) / SIDE, i % channels);
  }
  return { width: SIDE, height: SIDE, channels, data };
}

describe('seam error', () => {
  it('is the jump across the seam, and nothing where both sides agree', () => {
    const flat = { tiles: new Map([[1001, image(1, () => 0.4)]]), tangentSpace: null };
    expect(seamError(ball, flat).mean).toBeLessThan(1e-12);
    // The ball's layout is cut where u is 0 and 1: values that grow with u jump there by their whole range.
    const ramp = { tiles: new Map([[1001, image(1, (u) => u)]]), tangentSpace: null };
    const { mean, worst, points, places } = seamError(ball, ramp);
    expect(points).toBeGreaterThan(SIDE);
    // At the poles the layout is cut between all neighbours, which differ by no more than a column.
    expect(mean).toBeGreaterThan(0.3);
    expect(worst).toBeCloseTo(1 - 1 / SIDE, 5);
    expect(places[0]!.tile).toBe(1001);
  });

  it('compares directions in object space, however both frames lie', () => {
    const space = { space: 'tangent', y: 'up', axes: 'xyz' } as const;
    const flat = image(3, (_u, _v, c) => (c === 2 ? 1 : 0.5));
    expect(seamError(ball, { tiles: new Map([[1001, flat]]), tangentSpace: space }).worst).toBeLessThan(1e-6);
  });
});

describe('mending seams (Liu, Ferguson, Jacobson, Gingold 2017)', () => {
  it.each([1, 3])('makes both sides of %i channels agree and leaves the rest alone', (channels) => {
    const picture = image(channels, (u, v, c) => 0.5 + 0.3 * Math.sin(5 * u + c) * Math.cos(7 * v));
    const before = picture.data.slice();
    const map = { tiles: new Map([[1001, picture]]), tangentSpace: null };
    const error = seamError(ball, map).mean;
    mendSeams(ball, map);
    expect(seamError(ball, map).mean).toBeLessThan(error / 20);
    // Two columns of texels on each side of the cut are read by it, and the rows of the poles' triangles.
    for (let y = 8; y < SIDE - 8; y++) {
      for (let x = 3; x < SIDE - 3; x++) {
        const at = (y * SIDE + x) * channels;
        expect(picture.data[at]).toBe(before[at]);
      }
    }
  });

  it('mends directions in their frames, which stay of length one', () => {
    const normals = image(3, (u, v, c) => {
      const d = [0.4 * Math.sin(9 * u), 0.4 * Math.cos(5 * v), 0.8];
      return d[c]! / Math.hypot(...d) / 2 + 0.5;
    });
    const tangentSpace = { space: 'tangent', y: 'down', axes: 'xyz' } as const;
    const map = { tiles: new Map([[1001, normals]]), tangentSpace };
    const error = seamError(ball, map).mean;
    mendSeams(ball, map);
    expect(seamError(ball, map).mean).toBeLessThan(error / 8);
    for (let i = 0; i < normals.data.length; i += 3) {
      expect(Math.hypot(...[0, 1, 2].map((c) => normals.data[i + c]! * 2 - 1))).toBeCloseTo(1, 4);
    }
  });
});

describe('structural similarity', () => {
  it('equals the package ssim.js (Wang et al. 2004)', () => {
    const random = randomNumbers(5);
    const a = Float32Array.from({ length: SIDE * SIDE }, (_, i) => Math.round((i % SIDE) * 2 + random() * 100));
    const b = a.map((value) => Math.min(255, Math.round(value * 0.8 + random() * 60)));
    const grey = (values: Float32Array) => ({
      width: SIDE,
      height: SIDE,
      data: Uint8ClampedArray.from({ length: SIDE * SIDE * 4 }, (_, i) => (i % 4 === 3 ? 255 : values[i >> 2]!)),
    });
    const options = { ssim: 'original', downsample: false, rgb2grayVersion: 'original' } as const;
    const expected = referenceSsim(grey(a), grey(b), options).mssim;
    const unit = (values: Float32Array): Float32Array => values.map((value) => value / 255);
    expect(ssim(unit(a), unit(b), SIDE, SIDE)).toBeCloseTo(expected, 2);
    expect(ssim(unit(a), unit(a), SIDE, SIDE)).toBeCloseTo(1, 12);
  });
});
