import type { Image } from './image.ts';

/**
 * A map of heights with its heights as values, in the unit of its convention: 0 at the surface itself. A map that
 * nobody has said the convention of is left as it is.
 * @example inHeights(png16).data // from black at −mid · span to white at (1 − mid) · span
 */
export function inHeights(image: Image): Image {
  const { convention, range: [low, high] = [0, 1] } = image;
  if (convention?.of !== 'height') return image;
  const { mid, span } = convention;
  const range = [-mid * span, (1 - mid) * span] as const;
  if (low === range[0] && high === range[1]) return image;
  const scale = span / (high - low || 1);
  return { ...image, range, data: image.data.map((value) => (value - low) * scale + range[0]) };
}
