import { kernelTeam } from '../../kernel/kernelTeam.ts';
import type { Image } from '../image.ts';
import { blurInKernel } from './blurInKernel.ts';
import { blurPlainly } from './blurPlainly.ts';
import type { Border } from './resample.ts';

/**
 * Blurs by a Gaussian of any width at the same cost: extended box filters, four times over, whose variances add up to
 * that of the Gaussian exactly (Gwosdek, Grewenig, Bruhn and Weickert, "Theoretical Foundations of Gaussian Convolution
 * by Extended Box Filtering", 2011). A constant picture stays constant. In the kernel in single precision: off by less than
 * 1e-6 of the values about.
 * @param sigma standard deviation in texels; 0 leaves the picture
 * @example const soft = blur(photograph, 8, 'clamp');
 */
export function blur(image: Image, sigma: number, border: Border): Image {
  if (!(sigma > 0)) return image;
  const team = kernelTeam();
  return team && !isMean(image, sigma, border)
    ? blurInKernel(team, image, sigma, border)
    : blurPlainly(image, sigma, border);
}

/** Round a circle no longer than the standard deviation nothing but the mean is left (exp(−2π²), of its waves). */
export const isMean = ({ width, height }: Image, sigma: number, border: Border): boolean =>
  border === 'repeat' && sigma >= Math.min(width, height);
