import { kernelTeam } from '../kernel/kernelTeam.ts';
import { blur, isMean } from '../image/filter/blur.ts';
import type { Image } from '../image/image.ts';
import type { Border } from '../image/filter/resample.ts';
import { denoiseInKernel } from './denoiseInKernel.ts';

/**
 * Smooths what is small and keeps edges: the guided filter with the picture as its own guide (He, Sun and Tang, "Guided
 * Image Filtering", 2013), with Gaussian windows. Channels are treated one by one.
 * @param sigma of the window, in texels @param edge changes larger than this stay, as a share of the full range
 */
export function denoise(image: Image, sigma: number, edge: number, border: Border): Image {
  const team = kernelTeam();
  if (team && sigma > 0 && !isMean(image, sigma, border)) return denoiseInKernel(team, image, sigma, edge, border);
  const { data } = image;
  const blurred = (samples: Float32Array): Float32Array => blur({ ...image, data: samples }, sigma, border).data;
  const epsilon = edge * edge;
  const gain = new Float32Array(data.length);
  const shift = new Float32Array(data.length);
  for (let i = 0; i < data.length; i++) gain[i] = data[i]! * data[i]!;
  const squares = blurred(gain);
  const mean = blurred(data);
  for (let i = 0; i < data.length; i++) {
    const variance = Math.max(0, squares[i]! - mean[i]! * mean[i]!);
    gain[i] = variance / (variance + epsilon);
    shift[i] = mean[i]! * (1 - gain[i]!);
  }
  const gains = blurred(gain);
  const result = blurred(shift);
  for (let i = 0; i < data.length; i++) result[i]! += gains[i]! * data[i]!;
  return { ...image, data: result };
}
