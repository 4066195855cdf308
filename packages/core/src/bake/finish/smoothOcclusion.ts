import { TexelState, type Image } from '../../image/image.ts';

/**
 * Smooths noise away without smoothing what is there: each covered texel becomes the mean of those around it on its own
 * island, weighted by distance and by how near their values are (Tomasi & Manduchi, "Bilateral Filtering", 1998).
 * @param islands the island of each covered texel; no texel is ever mixed with another island's
 * @param radius texels
 * @param noise the noise to be expected, as the values' standard deviation
 */
export function smoothOcclusion(
  { width, height, data }: Image,
  states: Uint8Array,
  islands: Uint16Array,
  radius: number,
  noise: number,
): void {
  const before = data.slice();
  const near = Float64Array.from({ length: radius + 1 }, (_, d) => Math.exp(-((d * 1.5) ** 2) / (2 * radius * radius)));
  const sharpness = 1 / (2 * Math.max(noise * 3, 0.01) ** 2);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const at = y * width + x;
      if (states[at] !== TexelState.covered) continue;
      const here = before[at]!;
      let sum = 0;
      let weights = 0;
      for (let j = Math.max(0, y - radius); j <= Math.min(height - 1, y + radius); j++) {
        for (let i = Math.max(0, x - radius); i <= Math.min(width - 1, x + radius); i++) {
          const other = j * width + i;
          if (states[other] !== TexelState.covered || islands[other] !== islands[at]) continue;
          const difference = before[other]! - here;
          const weight =
            near[Math.abs(i - x)]! * near[Math.abs(j - y)]! * Math.exp(-difference * difference * sharpness);
          sum += before[other]! * weight;
          weights += weight;
        }
      }
      data[at] = sum / weights;
    }
  }
}
