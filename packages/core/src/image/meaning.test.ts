import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { linearToSrgb } from '../color/srgb.ts';
import { randomNumbers } from '../math/randomNumbers.ts';
import { exported, parseBackground } from './background.ts';
import { BLEND_MODES, blended, changeColor, UNCHANGED } from './blend.ts';
import {
  AXIS_ORDERS,
  describeNormalSpace,
  GLTF_NORMAL,
  inNormalSpace,
  isSameSpace,
  neutralDirection,
  type NormalSpace,
} from './convention.ts';
import { resample, RESAMPLE_KERNELS } from './filter/resample.ts';
import { sketchOf } from './filter/halve.ts';
import { inHeights } from './heights.ts';
import { histograms } from './histogram.ts';
import { channelFor, meaningOf, OPAQUE, TexelState, type Image } from './image.ts';
import {
  BAKED_KINDS,
  describeKind,
  followsNormalSpace,
  inUsualOrder,
  isCategory,
  isDirection,
  isMapKind,
  MAP_KIND_IDS,
  neutralTexel,
  normalSpaceOf,
  phraseOfKinds,
  toUnit,
} from './kindMeaning.ts';
import { packChannels } from './packChannels.ts';
import { luminance, meanOf, smoothStep, tone } from './planes.ts';
import { bilinear, wrapped } from './sample.ts';
import { toLight } from './toLight.ts';

function noise(width: number, height: number, channels: number, seed = 1): Image {
  const random = randomNumbers(seed);
  return { width, height, channels, data: new Float32Array(width * height * channels).map(() => random()) };
}
const anySize = fc.integer({ min: 1, max: 40 });
const anySpace: fc.Arbitrary<NormalSpace> = fc.record({
  space: fc.constant('tangent' as const),
  y: fc.constantFrom('up' as const, 'down' as const),
  axes: fc.constantFrom(...AXIS_ORDERS),
});

describe('directions in another space', () => {
  it('come back whatever the way, texel by texel', () => {
    fc.assert(
      fc.property(anySpace, anySpace, fc.constantFrom(3, 4), (from, to, channels) => {
        const image: Image = { ...noise(3, 2, channels), convention: { of: 'direction', ...from } };
        const there = inNormalSpace(image, to, 'a');
        expect(there.convention).toEqual({ of: 'direction', ...to });
        const back = inNormalSpace(there, from, 'a');
        back.data.forEach((value, i) => expect(value).toBeCloseTo(image.data[i]!, 6));
      }),
    );
  });

  it('turn green alone for the other Y, and red, green and blue for other axes', () => {
    const texel = (space: NormalSpace): number[] => [
      ...inNormalSpace({ width: 1, height: 1, channels: 3, data: Float32Array.from([0.25, 0.75, 1]) }, space, 'a').data,
    ];
    expect(texel({ ...GLTF_NORMAL, y: 'down' })).toEqual([0.25, 0.25, 1]);
    expect(texel({ ...GLTF_NORMAL, axes: 'zyx' })).toEqual([1, 0.75, 0.25]);
    expect(texel({ ...GLTF_NORMAL, axes: 'yzx' })).toEqual([0.75, 1, 0.25]);
  });

  it('of objects and of tangents do not become each other, and the reason is said', () => {
    const image: Image = { ...noise(1, 1, 3), convention: { of: 'direction', ...GLTF_NORMAL, space: 'object' } };
    expect(() => inNormalSpace(image, GLTF_NORMAL, 'bell_normal')).toThrow(
      /“bell_normal” holds normals in object space; tangent space, Y up is needed\. Bake it again/,
    );
  });

  it('are said in words, and told apart only by what counts', () => {
    expect(describeNormalSpace({ space: 'object', y: 'down', axes: 'xzy' })).toBe('object space, XZY');
    const object: NormalSpace = { space: 'object', y: 'up', axes: 'xyz' };
    expect(isSameSpace(object, { ...object, y: 'down' })).toBe(true);
    expect(isSameSpace(GLTF_NORMAL, { ...GLTF_NORMAL, y: 'down' })).toBe(false);
    expect(isSameSpace(GLTF_NORMAL, { ...GLTF_NORMAL, axes: 'xzy' })).toBe(false);
  });

  it('are neutral along z in the space they are in', () => {
    expect(neutralDirection(GLTF_NORMAL)).toEqual([0.5, 0.5, 1]);
    expect(neutralDirection({ ...GLTF_NORMAL, axes: 'xzy' })).toEqual([0.5, 1, 0.5]);
    expect(neutralDirection({ ...GLTF_NORMAL, space: 'object' })).toEqual([0.5, 0.5, 0.5]);
  });

  it('of unit length stay so', () => {
    fc.assert(
      fc.property(
        fc.tuple(fc.integer({ min: 0, max: 100 }), fc.integer({ min: 0, max: 100 }), fc.integer({ min: 51, max: 100 })),
        (parts) => {
          const data = Float32Array.from(parts, (part) => part / 100);
          toUnit(data, 0);
          expect(Math.hypot(...[...data].map((value) => value * 2 - 1))).toBeCloseTo(1, 6);
        },
      ),
    );
  });
});

describe('heights', () => {
  it('are lengths by unit, middle and span', () => {
    const image: Image = {
      ...{ width: 3, height: 1, channels: 1, data: Float32Array.from([0, 0.25, 1]) },
      convention: { of: 'height', unit: 'mm', mid: 0.25, span: 8 },
    };
    const lengths = inHeights(image);
    expect([...lengths.data]).toEqual([-2, 0, 6]);
    expect(lengths.range).toEqual([-2, 6]);
    // What is in lengths already stays.
    expect(inHeights(lengths)).toBe(lengths);
  });

  it('of which nobody has said what they mean stay as they are', () => {
    const image = noise(2, 2, 1);
    expect(inHeights(image)).toBe(image);
  });
});

describe('what an image means', () => {
  it('is its range, colour space and convention and nothing else', () => {
    const image: Image = { ...noise(1, 1, 1), range: [0, 2], colorSpace: 'srgb' };
    expect(meaningOf(image)).toEqual({ range: [0, 2], colorSpace: 'srgb' });
    expect(meaningOf(noise(1, 1, 1))).toEqual({});
  });

  it('finds its channels: grey stands for all colours, and alpha may be missing', () => {
    expect([0, 1, 2, 3].map((wanted) => channelFor(1, wanted))).toEqual([0, 0, 0, OPAQUE]);
    expect([0, 1, 2, 3].map((wanted) => channelFor(2, wanted))).toEqual([0, 0, 0, 1]);
    expect([0, 1, 2, 3].map((wanted) => channelFor(3, wanted))).toEqual([0, 1, 2, OPAQUE]);
    expect([0, 1, 2, 3].map((wanted) => channelFor(4, wanted))).toEqual([0, 1, 2, 3]);
  });
});

describe('the table of kinds', () => {
  it('has for each a label, a phrase and a neutral texel that its values allow', () => {
    const labels = MAP_KIND_IDS.map((kind) => describeKind(kind).label);
    expect(new Set(labels).size).toBe(labels.length);
    for (const kind of MAP_KIND_IDS) {
      const { label, phrase, channels } = describeKind(kind);
      expect(label[0], kind).toBe(label[0]!.toUpperCase());
      expect(phrase.length, kind).toBeGreaterThan(1);
      expect([1, 3], kind).toContain(channels);
      for (const value of neutralTexel(kind)) expect(value >= 0 && value <= 1, kind).toBe(true);
      if (isDirection(kind))
        expect(
          neutralTexel(kind)
            .slice(0, 3)
            .some((value) => value !== 0),
        ).toBe(true);
    }
  });

  it('says which are in the usual order, and which space their directions take', () => {
    expect(inUsualOrder([...MAP_KIND_IDS].reverse())).toEqual(MAP_KIND_IDS);
    expect(phraseOfKinds(['normal', 'ao'])).toBe('normal, ambient occlusion');
    const asked: NormalSpace = { space: 'tangent', y: 'down', axes: 'xzy' };
    for (const kind of MAP_KIND_IDS.filter(isDirection)) {
      expect(normalSpaceOf(kind, asked)).toEqual(
        followsNormalSpace(kind) ? asked : { ...GLTF_NORMAL, space: 'object' },
      );
    }
    for (const kind of BAKED_KINDS) expect(isMapKind(kind)).toBe(true);
    for (const id of ['toString', 'constructor', '', 'Normal']) expect(isMapKind(id)).toBe(false);
    expect(MAP_KIND_IDS.filter(isCategory)).toContain('id');
  });
});

describe('sampling', () => {
  it('beyond the border takes the nearest, the same again, or the mirror image', () => {
    const line = (wrap: 'clamp' | 'repeat' | 'mirror'): number[] =>
      Array.from({ length: 10 }, (_, i) => wrapped(i - 4, 3, wrap));
    expect(line('clamp')).toEqual([0, 0, 0, 0, 0, 1, 2, 2, 2, 2]);
    expect(line('repeat')).toEqual([2, 0, 1, 2, 0, 1, 2, 0, 1, 2]);
    expect(line('mirror')).toEqual([2, 2, 1, 0, 0, 1, 2, 2, 1, 0]);
  });

  it('at a texel’s centre is that texel, and between two their mean', () => {
    const image = noise(5, 4, 3);
    for (let y = 0; y < 4; y++) {
      for (let x = 0; x < 5; x++) {
        expect(bilinear(image, (x + 0.5) / 5, 1 - (y + 0.5) / 4, 1)).toBeCloseTo(image.data[(y * 5 + x) * 3 + 1]!, 6);
      }
    }
    const between = bilinear(image, 1 / 5, 1 - 0.5 / 4, 0);
    expect(between).toBeCloseTo((image.data[0]! + image.data[3]!) / 2, 6);
    // What repeats joins its last column to its first.
    expect(bilinear(image, 0, 1 - 0.5 / 4, 0, 'repeat')).toBeCloseTo((image.data[0]! + image.data[12]!) / 2, 6);
  });

  it('is never beyond what it is made of', () => {
    const image = noise(6, 6, 1);
    const [low, high] = [Math.min(...image.data), Math.max(...image.data)];
    fc.assert(
      fc.property(
        fc.double({ min: -2, max: 3, noNaN: true }),
        fc.double({ min: -2, max: 3, noNaN: true }),
        fc.constantFrom('clamp' as const, 'repeat' as const, 'mirror' as const),
        (u, v, wrap) => {
          const value = bilinear(image, u, v, 0, wrap);
          expect(value >= low - 1e-6 && value <= high + 1e-6).toBe(true);
        },
      ),
    );
  });
});

describe('resampling', () => {
  it.each(RESAMPLE_KERNELS)('%s keeps a constant at any size', (kernel) => {
    fc.assert(
      fc.property(
        anySize,
        anySize,
        anySize,
        anySize,
        fc.constantFrom('clamp' as const, 'repeat' as const),
        (w, h, width, height, border) => {
          const image: Image = { width: w, height: h, channels: 1, data: new Float32Array(w * h).fill(0.375) };
          for (const value of resample(image, { width, height }, kernel, border).data)
            expect(value).toBeCloseTo(0.375, 5);
        },
      ),
      { numRuns: 20 },
    );
  });

  it('nearest makes no new value; the same size is the same picture', () => {
    const image = noise(7, 5, 3);
    const values = new Set(image.data);
    for (const value of resample(image, { width: 19, height: 3 }, 'nearest').data) expect(values.has(value)).toBe(true);
    expect(resample(image, { width: 7, height: 5 }, 'lanczos3')).toBe(image);
  });

  it('a sketch is at most 256 texels long, and a small picture is its own', () => {
    const small = noise(20, 3, 1);
    expect(sketchOf(small)).toBe(small);
    const sketch = sketchOf({ ...noise(1000, 3, 1) });
    expect([sketch.width, sketch.height]).toEqual([250, 1]);
  });
});

describe('blend modes (W3C Compositing and Blending Level 1)', () => {
  const value = fc.double({ min: 0, max: 1, noNaN: true });
  it.each(BLEND_MODES)('%s stays between 0 and 1', (mode) => {
    fc.assert(
      fc.property(value, value, (below, above) => {
        const result = blended(mode, below, above);
        expect(result >= -1e-12 && result <= 1 + 1e-12).toBe(true);
      }),
    );
  });

  it('have their neutral colours', () => {
    fc.assert(
      fc.property(value, (below) => {
        expect(blended('multiply', below, 1)).toBeCloseTo(below, 12);
        expect(blended('screen', below, 0)).toBeCloseTo(below, 12);
        expect(blended('overlay', below, 0.5)).toBeCloseTo(below, 12);
        expect(blended('hard-light', below, 0.5)).toBeCloseTo(below, 12);
        expect(blended('soft-light', below, 0.5)).toBeCloseTo(below, 12);
        expect(blended('difference', below, 0)).toBeCloseTo(below, 12);
        expect(blended('exclusion', below, 0)).toBeCloseTo(below, 12);
        expect(blended('color-dodge', below, 0)).toBeCloseTo(below, 12);
        expect(blended('color-burn', below, 1)).toBeCloseTo(below, 12);
        expect(blended('darken', below, 1)).toBe(below);
        expect(blended('lighten', below, 0)).toBe(below);
        expect(blended('normal', below, 0.3)).toBe(0.3);
      }),
    );
  });

  it('change a colour by saturation, contrast and tint, or not at all', () => {
    fc.assert(
      fc.property(value, value, value, (r, g, b) => {
        const same = Float64Array.from([r, g, b]);
        changeColor(same, UNCHANGED);
        [r, g, b].forEach((part, k) => expect(same[k]).toBeCloseTo(part, 12));
        const grey = Float64Array.from([r, g, b]);
        changeColor(grey, { ...UNCHANGED, saturation: 0 });
        expect(grey[0]).toBeCloseTo(0.2126 * r + 0.7152 * g + 0.0722 * b, 12);
        expect(grey[0]).toBeCloseTo(grey[2]!, 12);
        const flat = Float64Array.from([r, g, b]);
        changeColor(flat, { tint: [1, 0.5, 0], contrast: 0, saturation: 1 });
        expect([...flat]).toEqual([0.5, 0.25, 0]);
      }),
    );
  });
});

describe('a map on its way out', () => {
  const states = Uint8Array.from([TexelState.background, TexelState.padding, TexelState.covered, TexelState.missed]);
  const image: Image = { width: 4, height: 1, channels: 1, data: Float32Array.from([-1, 0, 1, 3]), range: [-1, 3] };

  it('has its coverage as alpha, and a background in its own range', () => {
    const out = exported(image, states, { alpha: true, background: [0.5, 0.5, 0.5] });
    expect([...out.data]).toEqual([1, 1, 1, 0, 0, 0, 0, 0, 1, 1, 1, 1, 3, 3, 3, 1]);
    expect(exported(image, states, {})).toBe(image);
    // Grey is luminance: 0.7152 of full green (Rec. 709).
    expect(exported(image, states, { background: [0, 1, 0] }).data[0]).toBeCloseTo(-1 + 0.7152 * 4, 5);
  });

  it('has the colour as a background that was asked for, where it is written through the sRGB curve', () => {
    const color: Image = { width: 4, height: 1, channels: 3, data: new Float32Array(12), colorSpace: 'srgb' };
    const { data } = exported(color, states, { background: parseBackground('#80ff00') });
    expect([...data.slice(0, 3)].map((value) => Math.round(linearToSrgb(value) * 255))).toEqual([0x80, 0xff, 0]);
    expect([...data.slice(3)]).toEqual(new Array(9).fill(0));
  });

  it('takes backgrounds by name or as a colour, and refuses others in words', () => {
    expect(parseBackground('neutral')).toBeNull();
    expect([parseBackground('black'), parseBackground('white')]).toEqual([
      [0, 0, 0],
      [1, 1, 1],
    ]);
    expect(parseBackground('#0080FF')).toEqual([0, 128 / 255, 1]);
    expect(() => parseBackground('mauve')).toThrow(/“mauve” is not a colour/);
  });

  it('counts islands only, leaves out what is no number, and puts what is beyond into the last bin', () => {
    const [all] = histograms({ ...image, data: Float32Array.from([9, NaN, 1, 3]) }, states);
    expect(all).toMatchObject({ min: 1, max: 3, mean: 2 });
    expect(all!.bins.reduce((sum, count) => sum + count, 0)).toBe(2);
    expect(all!.bins[255]).toBe(1);
    expect(histograms(image, new Uint8Array(4))[0]).toMatchObject({ min: 0, max: 0, mean: 0 });
  });
});

describe('channels packed into one picture', () => {
  it('are those that were asked for: inverted, by levels, constant, alpha', () => {
    const colors = noise(4, 3, 4);
    const grey = noise(4, 3, 1, 2);
    const packed = packChannels([
      { image: colors, channel: 2, invert: true, levels: [0, 1] },
      { image: grey, channel: 1, invert: false, levels: [0.25, 0.75] },
      { constant: 0.5 },
      { image: grey, channel: 3, invert: false, levels: [0, 1] },
    ]);
    expect([packed.width, packed.height, packed.channels]).toEqual([4, 3, 4]);
    for (let i = 0; i < 12; i++) {
      expect(packed.data[i * 4]).toBeCloseTo(1 - colors.data[i * 4 + 2]!, 6);
      expect(packed.data[i * 4 + 1]).toBeCloseTo(Math.max(0, Math.min(1, (grey.data[i]! - 0.25) * 2)), 6);
      expect([packed.data[i * 4 + 2], packed.data[i * 4 + 3]]).toEqual([0.5, 1]);
    }
  });

  it('take the size of the largest, and one texel where there are only numbers', () => {
    const sources = [noise(2, 2, 1), noise(8, 3, 1)].map((image) => ({
      image,
      channel: 0,
      invert: false,
      levels: [0, 1] as const,
    }));
    expect(packChannels(sources)).toMatchObject({ width: 8, height: 3 });
    expect([...packChannels([{ constant: 0.25 }]).data]).toEqual([0.25]);
  });
});

describe('planes', () => {
  it('of luminance are weighed by BT.709, of tone as the eye takes colours', () => {
    const white: Image = {
      width: 1,
      height: 1,
      channels: 3,
      data: Float32Array.from([0.5, 0.5, 0.5]),
      colorSpace: 'srgb',
    };
    expect(luminance(white).data[0]).toBeCloseTo(0.5, 6);
    expect(tone(white).data[0]).toBeCloseTo(0.735357, 5);
    expect(tone({ ...white, colorSpace: 'linear' }).data[0]).toBeCloseTo(0.5, 6);
    const grey = noise(3, 3, 1);
    expect(luminance(grey)).toBe(grey);
    expect(tone(grey).data).not.toBe(grey.data);
  });

  it('steps are flat at both ends, and even about their middle', () => {
    fc.assert(
      fc.property(fc.double({ min: 0, max: 1, noNaN: true }), (share) => {
        expect(smoothStep(2, 4, 2 + share * 2) + smoothStep(2, 4, 4 - share * 2)).toBeCloseTo(1, 9);
      }),
    );
    expect([smoothStep(1, 1, 0.9), smoothStep(1, 1, 1)]).toEqual([0, 1]);
    expect([meanOf([1, 2, 6]), meanOf([])]).toEqual([3, 0]);
  });

  it('to light takes the curve off colours and leaves alpha', () => {
    const image: Image = { width: 1, height: 1, channels: 4, data: Float32Array.from([0.5, 1 / 3, 1, 0.5]) };
    toLight(image);
    [0.21404114, 0.0908417, 1, 0.5].forEach((value, k) => expect(image.data[k]).toBeCloseTo(value, 6));
  });
});
