import { isCategory, isColor, isDirection } from './kindMeaning.ts';
import type { Image } from './image.ts';
import type { MapKind } from './mapKinds.ts';

/**
 * A map of numbers whose range nobody has said, with the one its values need: whole-number files stretch it, so that
 * nothing is cut off below 0 or above 1. Heights stay what they are meant to be. Any other map is left as it is.
 * @returns the same samples
 * @example withNeededRange('height', { ...metres, data: Float32Array.of(-0.5, 2) }).range // [-0.5, 2]
 */
export function withNeededRange(kind: MapKind, image: Image): Image {
  if (image.range || isColor(kind) || isDirection(kind) || isCategory(kind)) return image;
  let [low, high] = [Infinity, -Infinity];
  for (const value of image.data) {
    if (value < low) low = value;
    if (value > high) high = value;
  }
  if (!(low < 0 || high > 1)) return image;
  // A map of one value still needs two ends.
  if (low === high) [low, high] = [Math.min(0, low), Math.max(1, high)];
  const { convention } = image;
  if (convention?.of !== 'height') return { ...image, range: [low, high] };
  const { mid, span } = convention;
  const scale = high - low;
  return { ...image, range: [low, high], convention: { ...convention, mid: (mid - low) / scale, span: span * scale } };
}
