// Points that fill the unit square evenly, other ones for each texel and each use: a Sobol sequence in two dimensions whose
// order and digits are scrambled by hashes (Burley, "Practical Hash-based Owen Scrambling", 2020).

import { laineKarras, mixed, reversed } from '../math/lowDiscrepancy.ts';

/** Direction numbers of the second dimension, for four bits of an index at a time: 8 × 16 entries. */
const SECOND = (() => {
  const directions = new Uint32Array(32);
  directions[0] = 0x80000000;
  // Of the polynomial x + 1 (Joe and Kuo 2008).
  for (let i = 1; i < 32; i++) directions[i] = directions[i - 1]! ^ (directions[i - 1]! >>> 1);
  const table = new Uint32Array(8 * 16);
  for (let part = 0; part < 8; part++) {
    for (let bits = 0; bits < 16; bits++) {
      for (let k = 0; k < 4; k++) if (bits & (1 << k)) table[part * 16 + bits]! ^= directions[part * 4 + k]!;
    }
  }
  return table;
})();

const UNIT = 1 / 4294967296;
/** The largest number below 1 that is one in single precision too. */
const BELOW_ONE = 1 - 2 ** -24;

/**
 * The point of a number: two numbers from 0 to below 1.
 * @param index from 0 on; the first 2ⁿ points fill the square evenly
 * @param seed of the texel and the use
 */
export function pointOf(index: number, seed: number, out: Float64Array): void {
  // The order is scrambled, or one use would follow another.
  const shuffled = reversed(laineKarras(reversed(index), seed));
  let second = 0;
  for (let part = 0, bits = shuffled; bits !== 0; part += 16, bits >>>= 4) second ^= SECOND[part + (bits & 15)]!;
  const first = reversed(laineKarras(shuffled, seed ^ 0x5bf03635));
  out[0] = Math.min(BELOW_ONE, (first >>> 0) * UNIT);
  out[1] = Math.min(BELOW_ONE, (reversed(laineKarras(reversed(second), seed ^ 0x3c6ef372)) >>> 0) * UNIT);
}

/** Two numbers that look like chance, where evenness is of no more use. */
export function chanceOf(seed: number, out: Float64Array): void {
  const first = mixed(seed, 0x1b873593);
  out[0] = Math.min(BELOW_ONE, (first >>> 0) * UNIT);
  out[1] = Math.min(BELOW_ONE, (mixed(first, seed) >>> 0) * UNIT);
}
