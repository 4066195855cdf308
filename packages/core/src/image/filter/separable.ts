import { kernelTeam } from '../../kernel/kernelTeam.ts';
import type { Size } from '../../math/size.ts';
import type { Image } from '../image.ts';
import { separablyInKernel } from './separablyInKernel.ts';
import { separablyPlainly } from './separablyPlainly.ts';

/** The texels of one axis that each new one is made of, and how much of each: those from `first` on, up to the next's. */
export interface Taps {
  first: Uint32Array;
  at: Uint32Array;
  weight: Float64Array;
}

/**
 * Gathers what each new texel of one axis is made of. A texel that is named twice is read once.
 * @param length texels of the result
 * @param gather tells of each new texel what it takes, by calling `take`
 */
export function tapsOf(
  length: number,
  gather: (texel: number, take: (at: number, weight: number) => void) => void,
): Taps {
  const first = new Uint32Array(length + 1);
  const [at, weight]: [number[], number[]] = [[], []];
  const own = new Map<number, number>();
  const take = (place: number, share: number): void => void own.set(place, (own.get(place) ?? 0) + share);
  for (let texel = 0; texel < length; texel++) {
    first[texel] = at.length;
    own.clear();
    gather(texel, take);
    for (const [place, share] of own) {
      if (share === 0) continue;
      at.push(place);
      weight.push(share);
    }
  }
  first[length] = at.length;
  return { first, at: Uint32Array.from(at), weight: Float64Array.from(weight) };
}

/**
 * A picture made anew axis by axis: columns first, whole rows at a time, for memory is read in order then. The kernel sums
 * in single precision, plain code in double: they differ by about 1e-6 of the largest value.
 */
export function separably(image: Image, size: Size, across: Taps, down: Taps): Image {
  const team = image.channels <= 4 ? kernelTeam() : null;
  return team ? separablyInKernel(team, image, size, across, down) : separablyPlainly(image, size, across, down);
}
