import { describe, expect, it } from 'vitest';
import type { Image, ImagePacking } from '@zographos/core/image';
import { guessKind } from './guessKind.ts';
import { guessPacking, nameOfPacking } from './guessPacking.ts';

const pictureOf = (channels: number, at: (texel: number, channel: number) => number): Image => ({
  ...{ width: 32, height: 32, channels },
  data: Float32Array.from({ length: 32 * 32 * channels }, (_, i) => at(Math.floor(i / channels), i % channels)),
});
/** Occlusion, roughness and metallic as they are found in one file: they do not go together. */
const packed = pictureOf(
  3,
  (t, c) => [0.9 + 0.1 * Math.sin(t), 0.5 + 0.2 * Math.cos(t * 1.7), t % 9 === 0 ? 1 : 0][c]!,
);
const withAlpha = pictureOf(4, (t, c) => (c < 3 ? packed.data[t * 3 + c]! : 0.5));
/** Colours of one surface: lighter and darker of one tone. */
const photo = pictureOf(3, (t, c) => (0.5 + 0.3 * Math.sin(t)) * [1, 0.8, 0.6][c]!);
const grey = pictureOf(3, (t) => 0.5 + 0.3 * Math.sin(t));

/** As `ao roughness metallic`; a minus stands before what is turned round, a dot for nothing. */
const written = (packing: ImagePacking | null): string | null =>
  packing && packing.map((each) => (each ? `${each.invert ? '-' : ''}${each.map}` : '.')).join(' ');

describe('what the channels of a file hold', () => {
  // Common practice, no source; two maps alone as glTF 2.0 has them.
  it.each([
    ['bollard_ORM.png', packed, 'ao roughness metallic'],
    ['bollard_arm_4k.png', packed, 'ao roughness metallic'],
    ['BollardRMA.tga', packed, 'roughness metallic ao'],
    ['bollard-mrao.png', packed, 'metallic roughness ao'],
    ['bollard_aorm.1002.png', packed, 'ao roughness metallic'],
    ['bollard_ormh.png', withAlpha, 'ao roughness metallic height'],
    ['bollard_occlusionRoughnessMetallic.png', packed, 'ao roughness metallic'],
    ['bollard metallic-roughness.png', packed, '. roughness metallic'],
    ['bollard_roughness_metalness.png', packed, '. roughness metallic'],
    ['bollard_metallic_smoothness.png', withAlpha, 'metallic . . -roughness'],
    ['bollard_base_color_roughness.png', withAlpha, 'basecolor basecolor basecolor roughness'],
    ['bollard_normal_height.png', withAlpha, 'normal normal normal height'],
    ['quay_metallic-occlusion-cavity-smoothness.tga', withAlpha, 'metallic ao cavity -roughness'],
  ])('%s', (name, sample, contents) => {
    const packing = guessPacking(name, sample)!;
    expect(written(packing)).toBe(contents);
    // What is written again under its own name is understood again.
    expect(guessPacking(`quay_${nameOfPacking(packing)}.png`, sample)).toEqual(packing);
  });

  it.each([
    // Of one map, whatever the thing is called.
    ['metal_plate_normal.png', packed],
    ['bollard_roughness.png', packed],
    // A colour that does not fit behind numbers, or whose alpha is not there.
    ['metal_rough_normal.png', packed],
    ['bollard_color_roughness.png', packed],
    // An arm is an arm as long as its channels go together, and what is grey holds one map.
    ['robot_arm.png', photo],
    ['bollard_ORM.png', grey],
    ['metal_roughness.png', grey],
    ['storm.png', packed],
    ['harm.png', packed],
  ])('%s holds one map alone', (name, sample) => {
    expect(guessPacking(name, sample)).toBeNull();
  });

  it('makes the whole a picture of numbers, or the colour that its first channels are', () => {
    expect(guessKind('bollard_ORM.png', packed, false)).toMatchObject({
      ...{ kind: 'image', colorSpace: 'linear', reason: 'from its name' },
    });
    expect(guessKind('bollard_albedo_roughness.png', withAlpha, false)).toMatchObject({
      ...{ kind: 'basecolor', colorSpace: 'srgb' },
    });
    expect(guessKind('bollard_roughness.png', grey, false).packing).toBeUndefined();
  });
});
