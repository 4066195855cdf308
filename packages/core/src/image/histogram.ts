import { TexelState, type Image } from './image.ts';

export const HISTOGRAM_BINS = 256;

/** The distribution of one channel of a map. */
export interface ChannelHistogram {
  min: number;
  max: number;
  mean: number;
  /** Counts over the image's range; values beyond fall into the first and last bin. */
  bins: number[];
}

/**
 * Distribution of each channel over the texels that belong to an island (covered or missed).
 * @param states a TexelState for each texel; leave out to count the whole picture
 */
export function histograms(image: Image, states?: Uint8Array): ChannelHistogram[] {
  const { data, channels, range: [low, high] = [0, 1] } = image;
  const scale = high > low ? HISTOGRAM_BINS / (high - low) : 0;
  const texels = data.length / channels;
  return Array.from({ length: channels }, (_, channel) => {
    const bins = new Array<number>(HISTOGRAM_BINS).fill(0);
    let min = Infinity;
    let max = -Infinity;
    let sum = 0;
    let count = 0;
    for (let i = 0; i < texels; i++) {
      if (states && states[i]! < TexelState.covered) continue;
      const value = data[i * channels + channel]!;
      if (Number.isNaN(value)) continue;
      if (value < min) min = value;
      if (value > max) max = value;
      sum += value;
      count++;
      const bin = Math.min(HISTOGRAM_BINS - 1, Math.max(0, Math.floor((value - low) * scale)));
      bins[bin]!++;
    }
    return count > 0 ? { min, max, mean: sum / count, bins } : { min: 0, max: 0, mean: 0, bins };
  });
}
