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
