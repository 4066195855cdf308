// Points that fill the unit square evenly, other ones for each texel and each use: a Sobol sequence in two dimensions whose
// order and digits are scrambled by hashes (Burley, "Practical Hash-based Owen Scrambling", 2020).

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

/** A number that looks like chance, for two others (Wang's and Jenkins' mixing, as of Burtle 2007). @returns 32 bits */
export function hashOf(a: number, b: number): number {
  let h = Math.imul(a, 0x9e3779b1) ^ Math.imul(b + 0x7f4a7c15, 0x85ebca77);
  h ^= h >>> 15;
  h = Math.imul(h, 0x2c1b3c6d);
  h ^= h >>> 12;
  h = Math.imul(h, 0x297a2d39);
  h ^= h >>> 15;
  return h >>> 0;
}

function reversed(x: number): number {
  x = ((x >>> 1) & 0x55555555) | ((x & 0x55555555) << 1);
  x = ((x >>> 2) & 0x33333333) | ((x & 0x33333333) << 2);
  x = ((x >>> 4) & 0x0f0f0f0f) | ((x & 0x0f0f0f0f) << 4);
  x = ((x >>> 8) & 0x00ff00ff) | ((x & 0x00ff00ff) << 8);
  return (x >>> 16) | (x << 16);
}

/** Laine's and Karras' hash, in which each bit depends on those below alone. */
function mixedUpwards(x: number, seed: number): number {
  x = (x + seed) | 0;
  x ^= Math.imul(x, 0x6c50b47c);
  x ^= Math.imul(x, 0xb82f1e52);
  x ^= Math.imul(x, 0xc7afe638);
  x ^= Math.imul(x, 0x8d22f6e6);
  return x;
}

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
  const shuffled = reversed(mixedUpwards(reversed(index), seed));
  let second = 0;
  for (let part = 0, bits = shuffled; bits !== 0; part += 16, bits >>>= 4) second ^= SECOND[part + (bits & 15)]!;
  const first = reversed(mixedUpwards(shuffled, seed ^ 0x5bf03635));
  out[0] = Math.min(BELOW_ONE, (first >>> 0) * UNIT);
  out[1] = Math.min(BELOW_ONE, (reversed(mixedUpwards(reversed(second), seed ^ 0x3c6ef372)) >>> 0) * UNIT);
}

/** Two numbers that look like chance, where evenness is of no more use. */
export function chanceOf(seed: number, out: Float64Array): void {
  const first = hashOf(seed, 0x1b873593);
  out[0] = Math.min(BELOW_ONE, first * UNIT);
  out[1] = Math.min(BELOW_ONE, hashOf(first, seed) * UNIT);
}

/** Two unit vectors at right angles to a third and to each other (Duff and others, "Building an Orthonormal Basis, Revisited", 2017). */
export function frameAbout(nx: number, ny: number, nz: number, out: Float64Array): void {
  const sign = nz >= 0 ? 1 : -1;
  const a = -1 / (sign + nz);
  const b = nx * ny * a;
  out[0] = 1 + sign * nx * nx * a;
  out[1] = sign * b;
  out[2] = -sign * nx;
  out[3] = b;
  out[4] = sign + ny * ny * a;
  out[5] = -ny;
}
