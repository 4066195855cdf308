import type { Image } from '../../image/image.ts';
import { extentOf, overlapAt, requireOverlap, type Axis, type Overlap } from './overlap.ts';

export interface BandOptions {
  axis: Axis;
  /** Columns (or rows) of the ends that lie on each other. */
  width: number;
  /** 1 blends over the whole band, less over its middle only; towards 0 it becomes a straight cut. */
  softness: number;
  /** 0 to 1: where in the band both ends are equal; below one half the end shows less, above it more. */
  balance: number;
}

export const DEFAULT_BAND: Omit<BandOptions, 'axis' | 'width'> = { softness: 1, balance: 0.5 };

/**
 * Blends both ends of a picture over a band: at its outer side the end of the picture shows, at its inner side the
 * beginning, with a smooth step between.
 * @throws input/bad-settings
 */
export function bandOverlap(image: Pick<Image, 'width' | 'height'>, options: BandOptions): Overlap {
  const { axis, width, softness, balance } = options;
  requireOverlap(image, axis, width);
  const [, other] = extentOf(image, axis);
  const weights = new Float32Array(width * other);
  const half = Math.max(softness / 2, 1e-6);
  for (let i = 0; i < width; i++) {
    const place = (i + 0.5) / width;
    const share = Math.max(0, Math.min(1, (balance + half - place) / (2 * half)));
    const smooth = share * share * (3 - 2 * share);
    for (let j = 0; j < other; j++) weights[overlapAt(image, options, i, j).weight] = smooth;
  }
  return { axis, width, weights };
}
