import { blur } from '../image/filter/blur.ts';
import type { Image } from '../image/image.ts';
import { planeLike } from '../image/planes.ts';
import type { Border } from '../image/filter/resample.ts';

/**
 * Smooths what is small and keeps edges: the guided filter with the picture as its own guide (He, Sun and Tang, "Guided
 * Image Filtering", 2013), with Gaussian windows. Channels are treated one by one.
 * @param sigma of the window, in texels @param edge changes larger than this stay, as a share of the full range
 */
export function denoise(image: Image, sigma: number, edge: number, border: Border): Image {
  const { channels } = image;
  const data = image.data.slice();
  const epsilon = edge * edge;
  for (let c = 0; c < channels; c++) {
    const plane = planeLike(image);
    for (let i = 0; i < plane.data.length; i++) plane.data[i] = image.data[i * channels + c]!;
    const mean = blur(plane, sigma, border).data;
    const squares = blur({ ...plane, data: plane.data.map((value) => value * value) }, sigma, border).data;
    const gain = squares.map((square, i) => {
      const variance = Math.max(0, square - mean[i]! * mean[i]!);
      return variance / (variance + epsilon);
    });
    const shift = gain.map((a, i) => mean[i]! * (1 - a));
    const gains = blur({ ...plane, data: gain }, sigma, border).data;
    const shifts = blur({ ...plane, data: shift }, sigma, border).data;
    for (let i = 0; i < plane.data.length; i++) data[i * channels + c] = gains[i]! * plane.data[i]! + shifts[i]!;
  }
  return { ...image, data };
}
