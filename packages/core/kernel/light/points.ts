// Points that fill the unit square evenly, other ones for each texel and each use: a Sobol sequence in two dimensions whose
// order and digits are scrambled by hashes (Burley, "Practical Hash-based Owen Scrambling", 2020).

/** The point that was drawn last: from 0 to below 1. */
export let pointU: f64 = 0;
export let pointV: f64 = 0;

/** Cosine and sine of the turn that was asked for last. */
export let turnCosine: f64 = 1;
export let turnSine: f64 = 0;

const UNIT: f64 = 1.0 / 4294967296.0;
/** The largest number below 1 that is one in single precision too. */
const BELOW_ONE: f64 = 1.0 - 5.9604644775390625e-8; // 1 − 2⁻²⁴

/** Path vertices that use even points; deeper ones use hashed random numbers. */
const EVEN_DEPTH: u32 = 2;

/** The point of a number. @param index from 0 on; the first 2ⁿ fill the square evenly @param seed of texel and use */
export function evenPoint(index: u32, seed: u32): void {
  // The order is scrambled, or one use would follow another.
  const order = laineKarras(reversed(index), seed);
  pointU = fraction(reversed(laineKarras(reversed(order), seed ^ 0x5bf03635)));
  pointV = fraction(reversed(laineKarras(reversed(secondDimension(order)), seed ^ 0x3c6ef372)));
}

/** Two numbers that look like chance, where evenness is of no more use. */
function chance(seed: u32): void {
  const first = mixed(seed, 0x1b873593);
  pointU = fraction(first);
  pointV = fraction(mixed(first, seed));
}

/**
 * Draws the point of a sample for one of the uses at a path vertex.
 * @param use 0: which light and which lobe; 1: place on the light; 2: direction; 3: Russian roulette and sky
 */
export function draw(sample: u32, seed: u32, depth: u32, use: u32): void {
  const own = mixed(seed, depth * 4 + use);
  if (depth < EVEN_DEPTH) evenPoint(sample, own);
  else chance(mixed(own, sample));
}

/** Whether chance is below a share: one for each hole that a ray meets. */
export function chanceBelow(share: f64, sample: u32, seed: u32, depth: u32, layer: u32): bool {
  return fraction(mixed(mixed(seed ^ 0x2545f491, depth * 256 + layer), sample)) < share;
}

/** Cosine and sine of a share of a full turn, to about 1e-9 (series of Taylor about the nearest quarter). */
export function turnBy(share: f64): void {
  const quarters = share * 4.0;
  const nearest = nearestNumber(quarters);
  const x = (quarters - nearest) * 1.5707963267948966;
  const s = x * x;
  const sine =
    x *
    (1 - s * (0.16666666666666666 - s * (0.008333333333333333 - s * (0.0001984126984126984 - s * 2.7557319223985893e-6))));
  const cosine =
    1 -
    s *
      (0.5 -
        s *
          (0.041666666666666664 -
            s * (0.001388888888888889 - s * (2.48015873015873e-5 - s * 2.755731922398589e-7))));
  const quarter = <i32>nearest;
  const isAcross = (quarter & 1) !== 0;
  turnCosine = select<f64>(sine, cosine, isAcross);
  turnSine = select<f64>(cosine, sine, isAcross);
  if (((quarter + 1) & 2) !== 0) turnCosine = -turnCosine;
  if ((quarter & 2) !== 0) turnSine = -turnSine;
}

@inline
function nearestNumber(x: f64): f64 {
  return floor<f64>(x + 0.5);
}

@inline
function fraction(bits: u32): f64 {
  return min<f64>(BELOW_ONE, <f64>bits * UNIT);
}

/** One number from two, without any pattern between neighbours. */
function mixed(a: u32, b: u32): u32 {
  let x = ((a ^ 0x9e3779b9) * 0x85ebca6b) ^ ((b + 0x7f4a7c15) * 0xc2b2ae35);
  x = (x ^ (x >> 15)) * 0x2c1b3c6d;
  x = (x ^ (x >> 12)) * 0x297a2d39;
  return x ^ (x >> 15);
}

/** The bits of a number from the last to the first. */
function reversed(x: u32): u32 {
  x = ((x >> 1) & 0x55555555) | ((x & 0x55555555) << 1);
  x = ((x >> 2) & 0x33333333) | ((x & 0x33333333) << 2);
  x = ((x >> 4) & 0x0f0f0f0f) | ((x & 0x0f0f0f0f) << 4);
  return bswap<u32>(x);
}

/** The hash of Laine and Karras, in which each bit depends on those below it alone. */
function laineKarras(bits: u32, seed: u32): u32 {
  let x = bits + seed;
  x ^= x * 0x6c50b47c;
  x ^= x * 0xb82f1e52;
  x ^= x * 0xc7afe638;
  x ^= x * 0x8d22f6e6;
  return x;
}

/**
 * The second coordinate of a Sobol point from its first: for the polynomial x + 1 (Joe and Kuo 2008) the directions are
 * the rows of Pascal's triangle modulo 2.
 */
function secondDimension(first: u32): u32 {
  let x = first;
  x ^= (x & 0x55555555) << 1;
  x ^= (x & 0x33333333) << 2;
  x ^= (x & 0x0f0f0f0f) << 4;
  x ^= (x & 0x00ff00ff) << 8;
  x ^= x << 16;
  return x;
}
