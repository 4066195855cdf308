import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { describeKind, isColor, MAP_KIND_IDS, type Image } from '@zographos/core/image';
import { guessKind, usualColorSpace } from './guessKind.ts';

const filled = (texel: readonly number[], side = 8): Image => ({
  width: side,
  height: side,
  channels: texel.length,
  data: Float32Array.from({ length: side * side * texel.length }, (_, i) => texel[i % texel.length]!),
});
const grey = filled([0.5, 0.5, 0.5]);

/** A normal map of the height a·sin(bx)·cos(cy), its green as asked for. */
function bumps(y: 'up' | 'down', side = 32): Image {
  const image: Image = { width: side, height: side, channels: 3, data: new Float32Array(side * side * 3) };
  for (let row = 0; row < side; row++) {
    for (let column = 0; column < side; column++) {
      const [u, v] = [column / side, 1 - row / side];
      const slope = [3 * Math.cos(9 * u) * Math.cos(7 * v), -2.3 * Math.sin(9 * u) * Math.sin(7 * v)] as const;
      const length = Math.hypot(slope[0], slope[1], 3);
      const green = (y === 'up' ? -1 : 1) * slope[1];
      image.data.set(
        [-slope[0], green, 3].map((value) => (value / length) * 0.5 + 0.5),
        (row * side + column) * 3,
      );
    }
  }
  return image;
}

describe('the kind of a picture', () => {
  it('is each kind by its own id and by each word of the table, whatever stands before', () => {
    for (const kind of MAP_KIND_IDS) {
      for (const word of [kind, ...describeKind(kind).words]) {
        const guess = guessKind(`Bell-buoy 02_${word}.png`, grey, false);
        // A word of two kinds belongs to the first of the table.
        const owners = MAP_KIND_IDS.filter((each) => [each, ...describeKind(each).words].includes(word));
        expect(owners, word).toContain(guess.kind);
        expect(guess.reason).toBe('from its name');
      }
    }
  });

  it('is what the name says last, and the longest of what ends at one place', () => {
    expect(guessKind('metal_plate_normal.png', grey, false).kind).toBe('normal');
    expect(guessKind('bell_bent_normal.png', grey, false).kind).toBe('bent');
    expect(guessKind('BellAmbientOcclusion.png', grey, false).kind).toBe('ao');
  });

  it('does not come from a part of a word', () => {
    expect(guessKind('chaos.png', grey, false).reason).toBe('from its content');
    expect(guessKind('paragraph.png', grey, false).reason).toBe('from its content');
  });

  it('is told by the content where the name says nothing', () => {
    expect(guessKind('one.png', filled([0.5, 0.5, 1]), false).kind).toBe('normal');
    expect(guessKind('two.png', grey, false).kind).toBe('mask');
    expect(guessKind('three.png', filled([0.3]), false).kind).toBe('mask');
    expect(guessKind('four.png', filled([0.8, 0.3, 0.1]), false).kind).toBe('image');
  });

  it('is never an error, whatever the name', () => {
    fc.assert(
      fc.property(fc.string(), fc.constantFrom(1, 3, 4), (name, channels) => {
        const { kind } = guessKind(name, filled(new Array<number>(channels).fill(0.2)), false);
        expect(MAP_KIND_IDS).toContain(kind);
      }),
    );
  });
});

describe('the colour space of a picture', () => {
  it('is sRGB for colours in whole numbers, and linear for data and for floats', () => {
    for (const kind of MAP_KIND_IDS) {
      expect(usualColorSpace(kind, false)).toBe(isColor(kind) ? 'srgb' : 'linear');
      expect(usualColorSpace(kind, true)).toBe('linear');
    }
  });
});

describe('the convention of directions', () => {
  it.each(['up', 'down'] as const)('Y %s is seen in the slopes, which are those of one height', (y) => {
    expect(guessKind('deck_normal.png', bumps(y), false).convention).toEqual({
      ...{ of: 'direction', space: 'tangent', y, axes: 'xyz' },
    });
  });

  it('is what the name says, against what is seen', () => {
    expect(guessKind('deck_normal_dx.png', bumps('up'), false).convention).toMatchObject({ y: 'down' });
    expect(guessKind('deck_normal_opengl.png', bumps('down'), false).convention).toMatchObject({ y: 'up' });
    expect(guessKind('deck_object_normal.png', bumps('up'), false).convention).toMatchObject({ space: 'object' });
  });

  it('is object space where many directions point below the surface', () => {
    const image = filled([0.5, 0.5, 1]);
    image.data.fill(0.1, 0, 60);
    expect(guessKind('deck_normal.png', image, false).convention).toMatchObject({ space: 'object' });
  });

  it('is none for what holds no directions', () => {
    expect(guessKind('deck_roughness.png', grey, false).convention).toBeUndefined();
  });
});
