import type { Image } from '../image.ts';
import { planeLike } from '../planes.ts';

const BINS = 512;

/**
 * The median of the square about each texel, to one part in 512 of the range: edges stay, and what is smaller than half a
 * square vanishes. By a histogram that moves along (Huang, Yang and Tang, "A Fast Two-Dimensional Median Filtering
 * Algorithm", 1979).
 * @param image one channel
 * @param radius of the square without its middle, in texels; beyond the border the nearest texel counts
 */
export function medianFilter(image: Image, radius: number): Image {
  const { width, height, data } = image;
  let [low, high] = [Infinity, -Infinity];
  for (const value of data) {
    low = Math.min(low, value);
    high = Math.max(high, value);
  }
  const span = high - low;
  if (!(span > 0)) return { ...image, data: data.slice() };
  const bins = Int32Array.from(data, (value) => Math.min(BINS - 1, Math.floor(((value - low) / span) * BINS)));
  const within = (value: number, size: number): number => Math.max(0, Math.min(size - 1, value));
  const half = ((2 * radius + 1) ** 2 + 1) / 2;
  const result = planeLike(image);
  for (let y = 0; y < height; y++) {
    const histogram = new Int32Array(BINS);
    const rows = Array.from({ length: 2 * radius + 1 }, (_, k) => within(y + k - radius, height) * width);
    for (let x = -radius; x <= radius; x++) for (const row of rows) histogram[bins[row + within(x, width)]!]!++;
    // So many texels lie in the bins below that of the median.
    let [bin, below] = [0, 0];
    for (let x = 0; x < width; x++) {
      while (below + histogram[bin]! < half) below += histogram[bin++]!;
      while (below >= half) below -= histogram[--bin]!;
      result.data[y * width + x] = low + ((bin + 0.5) / BINS) * span;
      const [gone, come] = [within(x - radius, width), within(x + radius + 1, width)];
      for (const row of rows) {
        const [old, fresh] = [bins[row + gone]!, bins[row + come]!];
        histogram[old]!--;
        if (old < bin) below--;
        histogram[fresh]!++;
        if (fresh < bin) below++;
      }
    }
  }
  return result;
}
