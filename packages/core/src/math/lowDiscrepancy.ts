/** The most points a set can have. */
export const MAX_POINTS = 4096;

/** The bits of a number from the last to the first. */
export const reversed = (x: number): number => {
  x = ((x >>> 1) & 0x55555555) | ((x & 0x55555555) << 1);
  x = ((x >>> 2) & 0x33333333) | ((x & 0x33333333) << 2);
  x = ((x >>> 4) & 0x0f0f0f0f) | ((x & 0x0f0f0f0f) << 4);
  x = ((x >>> 8) & 0x00ff00ff) | ((x & 0x00ff00ff) << 8);
  return (x >>> 16) | (x << 16);
};

/** Second coordinate of each Sobol point with its bits reversed; those of the first are just its number. */
const SECOND = Int32Array.from({ length: MAX_POINTS }, (_, index) => {
  let value = 0;
  let direction = 0x80000000;
  for (let bits = index; bits > 0; bits >>>= 1) {
    if (bits & 1) value ^= direction;
    direction ^= direction >>> 1;
  }
  return reversed(value);
});

/** The hash of Laine and Karras, in which each bit depends on those below it alone. */
export function laineKarras(bits: number, seed: number): number {
  let x = (bits + seed) | 0;
  x ^= Math.imul(x, 0x6c50b47c);
  x ^= Math.imul(x, 0xb82f1e52);
  x ^= Math.imul(x, 0xc7afe638);
  x ^= Math.imul(x, 0x8d22f6e6);
  return x;
}

/**
 * Shuffles the bits of a coordinate so that every set remains a net: nested uniform scrambling (Burley, "Practical
 * Hash-based Owen Scrambling", 2020).
 */
const scrambled = (bits: number, seed: number): number => (reversed(laineKarras(bits, seed)) >>> 0) / 2 ** 32;

/**
 * Points of the unit square that fill it evenly, as a set of its own for each seed: the first two dimensions of
 * the Sobol sequence (Joe & Kuo 2008), Owen-scrambled.
 * @param index 0 to MAX_POINTS − 1
 * @returns 0 ≤ x < 1
 */
export const pointX = (index: number, seed: number): number => scrambled(index, seed);

/** @returns 0 ≤ y < 1 */
export const pointY = (index: number, seed: number): number => scrambled(SECOND[index]!, mixed(seed, 0x5bd1e995));

/** One number from two, without any pattern between neighbours. */
export function mixed(a: number, b: number): number {
  let x = Math.imul(a ^ 0x9e3779b9, 0x85ebca6b) ^ Math.imul(b + 0x7f4a7c15, 0xc2b2ae35);
  x = Math.imul(x ^ (x >>> 15), 0x2c1b3c6d);
  x = Math.imul(x ^ (x >>> 12), 0x297a2d39);
  return x ^ (x >>> 15);
}
