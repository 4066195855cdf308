import { kernelTeam } from '../../kernel/kernelTeam.ts';
import type { Size } from '../../math/size.ts';
import type { Image } from '../image.ts';
import { separablyInKernel } from './separablyInKernel.ts';
import { separablyPlainly } from './separablyPlainly.ts';
import type { Taps } from './taps.ts';

/**
 * A picture made anew axis by axis: columns first, whole rows at a time, for memory is read in order then. The kernel sums
 * in single precision, plain code in double: they differ by about 1e-6 of the largest value.
 */
export function separably(image: Image, size: Size, across: Taps, down: Taps): Image {
  const team = image.channels <= 4 ? kernelTeam() : null;
  return team ? separablyInKernel(team, image, size, across, down) : separablyPlainly(image, size, across, down);
}
