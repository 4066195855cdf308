import { ZographosError } from '@zographos/core/errors';
import { toLight, type Image, type ImageMeaning, type MapKind } from '@zographos/core/image';
import type { RunResources } from '../runContext.ts';

/** What runs of flat material are told, and tell. */
export type FlatWatch = Pick<RunResources, 'cancelFlag' | 'onProgress'>;

/** A map of a flat set. */
export interface FlatMap {
  kind: MapKind;
  image: Image;
  /** Of a tile: what it was made of, at its scale and with the same adjustments, to prove it by. */
  picture?: () => Image;
}

/**
 * A picture as it is worked with: the sRGB curve of colours is taken off, numbers are stretched over the range that
 * black and white stand for, and what it means is written on it.
 * @param image as it was read from a file, 0 to 1 unless it holds floats; it is changed in place
 */
export function asMeantBy({ colorSpace, convention, range }: ImageMeaning, image: Image): Image {
  const meant: Image = { ...image, ...(convention ? { convention } : {}) };
  if (range) {
    const [low, high] = range;
    for (let i = 0; i < meant.data.length; i++) meant.data[i] = low + meant.data[i]! * (high - low);
    meant.range = range;
  }
  if (colorSpace === 'srgb') {
    meant.colorSpace = colorSpace;
    toLight(meant);
  }
  return meant;
}

/** @throws input/bad-settings */
export function requirePicture(pictures: readonly Image[], i: number): Image {
  const picture = pictures[i];
  if (picture) return picture;
  throw new ZographosError('input/bad-settings', 'A picture of this ticket is missing. Choose one it is made of.');
}
