// Discrete Fourier transforms, two lines at a time in double precision: powers of two by Cooley and Tukey's radix-2
// scheme, other lengths by Bluestein's chirp. The same steps as src/math/fourier.ts, and so the same bytes.
import { addressAt, numberAt, wholeAt } from '../numbers';

/** Lines of a task: as many as lie in one line of the cache. */
const LINES = 8;
/** Bytes of one number of two lines. */
const PAIR: usize = 16;

/**
 * Transforms some lines in place.
 * Numbers: real parts, imaginary parts, bytes from number to number, bytes from line to line, length, lines, length of
 * the transform within (a power of two; the length itself, or what the chirp needs), whether it is the inverse, what the
 * result is divided by; where each number of the transform within goes, cosines and sines of its turns; cosines and
 * sines of the chirp, real and imaginary parts of its filter.
 * @param room 32 bytes for each number of the transform within
 */
export function fourierOfLines(numbers: usize, task: i32, room: usize): void {
  const inverse = wholeAt(numbers, 7) !== 0;
  // The inverse is the transform of what is swapped, swapped.
  const reals = addressAt(numbers, inverse ? 1 : 0);
  const imaginaries = addressAt(numbers, inverse ? 0 : 1);
  const apart = addressAt(numbers, 2);
  const line = addressAt(numbers, 3);
  const size = wholeAt(numbers, 4);
  const lines = wholeAt(numbers, 5);
  const long = wholeAt(numbers, 6);
  const divisor = f64x2.splat(numberAt(numbers, 8));
  const re = room;
  const im = room + <usize>long * PAIR;
  const end = min(lines, (task + 1) * LINES);
  for (let first = task * LINES; first < end; first += 2) {
    const own = <usize>first * line;
    // Of an odd number of lines the last is done twice over.
    const next = first + 1 < end ? own + line : own;
    for (let i = 0; i < size; i++) {
      const from = <usize>i * apart;
      v128.store(re + <usize>i * PAIR, bothOf(reals + from, own, next));
      v128.store(im + <usize>i * PAIR, bothOf(imaginaries + from, own, next));
    }
    if (long === size) radixTwo(re, im, numbers);
    else chirp(re, im, numbers, size, long);
    for (let i = 0; i < size; i++) {
      const to = <usize>i * apart;
      storeBoth(reals + to, own, next, f64x2.div(v128.load(re + <usize>i * PAIR), divisor));
      storeBoth(imaginaries + to, own, next, f64x2.div(v128.load(im + <usize>i * PAIR), divisor));
    }
  }
}

@inline
function bothOf(from: usize, own: usize, next: usize): v128 {
  return v128.load64_lane(from + next, v128.load64_zero(from + own), 1);
}

@inline
function storeBoth(to: usize, own: usize, next: usize, both: v128): void {
  if (next !== own) v128.store64_lane(to + next, both, 1);
  v128.store64_lane(to + own, both, 0);
}

function radixTwo(re: usize, im: usize, numbers: usize): void {
  const size = wholeAt(numbers, 6);
  const turned = addressAt(numbers, 9);
  const cos = addressAt(numbers, 10);
  const sin = addressAt(numbers, 11);
  for (let i = 0; i < size; i++) {
    const j = load<i32>(turned + (<usize>i << 2));
    if (j > i) {
      swap(re + <usize>i * PAIR, re + <usize>j * PAIR);
      swap(im + <usize>i * PAIR, im + <usize>j * PAIR);
    }
  }
  for (let half = 1; half < size; half *= 2) {
    const step = <usize>(size / (2 * half)) << 3;
    const far = <usize>half * PAIR;
    for (let start = 0; start < size; start += 2 * half) {
      let turn: usize = 0;
      const end = <usize>(start + half) * PAIR;
      for (let at = <usize>start * PAIR; at < end; at += PAIR, turn += step) {
        const c = v128.load64_splat(cos + turn);
        const s = v128.load64_splat(sin + turn);
        const farRe = v128.load(re + at + far);
        const farIm = v128.load(im + at + far);
        const x = f64x2.sub(f64x2.mul(farRe, c), f64x2.mul(farIm, s));
        const y = f64x2.add(f64x2.mul(farRe, s), f64x2.mul(farIm, c));
        const nearRe = v128.load(re + at);
        const nearIm = v128.load(im + at);
        v128.store(re + at + far, f64x2.sub(nearRe, x));
        v128.store(im + at + far, f64x2.sub(nearIm, y));
        v128.store(re + at, f64x2.add(nearRe, x));
        v128.store(im + at, f64x2.add(nearIm, y));
      }
    }
  }
}

@inline
function swap(a: usize, b: usize): void {
  const kept = v128.load(a);
  v128.store(a, v128.load(b));
  v128.store(b, kept);
}

/** A transform of any length as a convolution of twice its length at least. */
function chirp(re: usize, im: usize, numbers: usize, size: i32, long: i32): void {
  const chirpCos = addressAt(numbers, 12);
  const chirpSin = addressAt(numbers, 13);
  const filterRe = addressAt(numbers, 14);
  const filterIm = addressAt(numbers, 15);
  for (let k = 0; k < size; k++) multiply(re, im, k, chirpCos, chirpSin);
  const rest = <usize>(long - size) * PAIR;
  memory.fill(re + <usize>size * PAIR, 0, rest);
  memory.fill(im + <usize>size * PAIR, 0, rest);
  radixTwo(re, im, numbers);
  for (let k = 0; k < long; k++) multiply(re, im, k, filterRe, filterIm);
  radixTwo(im, re, numbers);
  const share = f64x2.splat(<f64>long);
  for (let k = 0; k < size; k++) {
    const at = <usize>k * PAIR;
    v128.store(re + at, f64x2.div(v128.load(re + at), share));
    v128.store(im + at, f64x2.div(v128.load(im + at), share));
    multiply(re, im, k, chirpCos, chirpSin);
  }
}

/** Multiplies one number of two lines by one of two lists. */
@inline
function multiply(re: usize, im: usize, k: i32, otherRe: usize, otherIm: usize): void {
  const at = <usize>k * PAIR;
  const c = v128.load64_splat(otherRe + (<usize>k << 3));
  const s = v128.load64_splat(otherIm + (<usize>k << 3));
  const x = v128.load(re + at);
  const y = v128.load(im + at);
  v128.store(re + at, f64x2.sub(f64x2.mul(x, c), f64x2.mul(y, s)));
  v128.store(im + at, f64x2.add(f64x2.mul(x, s), f64x2.mul(y, c)));
}
