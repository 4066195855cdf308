import { sharedCopyFloat32 } from '../sharedArrays.ts';
import type { MapConvention } from './convention.ts';

/** How stored numbers relate to light: `srgb` for colours meant for the eye, `linear` for data and radiance. */
export type ColorSpace = 'srgb' | 'linear';

/** A picture as interleaved float samples, row 0 at the top, always linear inside. */
export interface Image {
  width: number;
  height: number;
  channels: number;
  data: Float32Array;
  /** The values that are 0 and 1 on screen and in whole-number files; left out, they are 0 and 1 themselves. */
  range?: ValueRange;
  /** `srgb` if screen and whole-number files show the samples through the sRGB curve; else as they are. */
  colorSpace?: ColorSpace;
  /** How directions and heights are meant, where somebody has said. */
  convention?: MapConvention;
}

/** How the samples of an image are meant, beside what they are. */
export type ImageMeaning = Pick<Image, 'range' | 'colorSpace' | 'convention'>;

/** What is known of how an image is meant, and nothing else. */
export const meaningOf = ({ range, colorSpace, convention }: ImageMeaning): ImageMeaning => ({
  ...(range ? { range } : {}),
  ...(colorSpace ? { colorSpace } : {}),
  ...(convention ? { convention } : {}),
});

/** The same picture where threads share it. */
export const sharedImage = (image: Image): Image => ({ ...image, data: sharedCopyFloat32(image.data) });

/** Stands for alpha where a picture has none: 1 everywhere. */
export const OPAQUE = -1;

/**
 * Where one of red, green, blue and alpha (0 to 3) lies among a picture's channels: grey stands for all three colours.
 * @returns OPAQUE for the alpha of a picture that has none
 */
export function channelFor(channels: number, wanted: number): number {
  if (wanted === 3) return channels % 2 === 0 ? channels - 1 : OPAQUE;
  return channels < 3 ? 0 : wanted;
}

export type ValueRange = readonly [low: number, high: number];

/** What became of each texel of a baked map; the order matters: reducing a map keeps the largest. */
export const TexelState = { background: 0, padding: 1, covered: 2, missed: 3 } as const;
