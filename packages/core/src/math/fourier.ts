/**
 * Discrete Fourier transforms of any length: powers of two by Cooley and Tukey's radix-2 scheme, others by Bluestein's
 * chirp. Real and imaginary parts lie in arrays of their own; forward transforms are not scaled, inverse ones by 1/n.
 */
export interface FourierPlan {
  size: number;
  /** Transforms in place. */
  run(re: Float64Array, im: Float64Array, inverse?: boolean): void;
}

/** Makes ready for transforms of one length. */
export const fourierPlan = (size: number): FourierPlan => (isPowerOfTwo(size) ? radixTwo(size) : chirp(size));

export const isPowerOfTwo = (size: number): boolean => (size & (size - 1)) === 0;

/** Of a transform whose length is a power of two: cosines and sines of its turns, and where each number goes. */
export function radixTables(size: number): { cos: Float64Array; sin: Float64Array; turned: Uint32Array } {
  const cos = Float64Array.from({ length: size / 2 }, (_, k) => Math.cos((2 * Math.PI * k) / size));
  const sin = Float64Array.from({ length: size / 2 }, (_, k) => -Math.sin((2 * Math.PI * k) / size));
  const turned = new Uint32Array(size);
  for (let i = 1, j = 0; i < size; i++) {
    let bit = size >> 1;
    for (; j & bit; bit >>= 1) j ^= bit;
    j ^= bit;
    turned[i] = j;
  }
  return { cos, sin, turned };
}

function radixTwo(size: number): FourierPlan {
  const { cos, sin, turned } = radixTables(size);
  const forward = (re: Float64Array, im: Float64Array): void => {
    for (let i = 0; i < size; i++) {
      const j = turned[i]!;
      if (j <= i) continue;
      const [a, b] = [re[i]!, im[i]!];
      re[i] = re[j]!;
      im[i] = im[j]!;
      re[j] = a;
      im[j] = b;
    }
    for (let half = 1; half < size; half *= 2) {
      const step = size / (2 * half);
      for (let start = 0; start < size; start += 2 * half) {
        for (let k = 0, w = 0; k < half; k++, w += step) {
          const i = start + k;
          const j = i + half;
          const x = re[j]! * cos[w]! - im[j]! * sin[w]!;
          const y = re[j]! * sin[w]! + im[j]! * cos[w]!;
          re[j] = re[i]! - x;
          im[j] = im[i]! - y;
          re[i]! += x;
          im[i]! += y;
        }
      }
    }
  };
  return { size, run: bothWays(size, forward) };
}

/** Of a transform of any length: the length of the convolution that it is, its chirp, and its filter, transformed. */
export interface ChirpTables {
  long: number;
  cos: Float64Array;
  sin: Float64Array;
  filterRe: Float64Array;
  filterIm: Float64Array;
}

export function chirpTables(size: number): ChirpTables {
  const long = 2 ** Math.ceil(Math.log2(2 * size - 1));
  // k² modulo 2n keeps the angle exact where k² itself would not be.
  const angle = Float64Array.from({ length: size }, (_, k) => (Math.PI * ((k * k) % (2 * size))) / size);
  const cos = angle.map((value) => Math.cos(value));
  const sin = angle.map((value) => -Math.sin(value));
  const [filterRe, filterIm] = [new Float64Array(long), new Float64Array(long)];
  for (let k = 0; k < size; k++) {
    for (const at of k === 0 ? [0] : [k, long - k]) {
      filterRe[at] = cos[k]!;
      filterIm[at] = -sin[k]!;
    }
  }
  radixTwo(long).run(filterRe, filterIm);
  return { long, cos, sin, filterRe, filterIm };
}

/** A transform of any length as a convolution of twice its length at least. */
function chirp(size: number): FourierPlan {
  const { long, cos, sin, filterRe, filterIm } = chirpTables(size);
  const inner = radixTwo(long);
  const [re2, im2] = [new Float64Array(long), new Float64Array(long)];
  const forward = (re: Float64Array, im: Float64Array): void => {
    re2.fill(0);
    im2.fill(0);
    for (let k = 0; k < size; k++) {
      const [c, s] = [cos[k]!, sin[k]!];
      re2[k] = re[k]! * c - im[k]! * s;
      im2[k] = re[k]! * s + im[k]! * c;
    }
    inner.run(re2, im2);
    for (let k = 0; k < long; k++) {
      const x = re2[k]! * filterRe[k]! - im2[k]! * filterIm[k]!;
      im2[k] = re2[k]! * filterIm[k]! + im2[k]! * filterRe[k]!;
      re2[k] = x;
    }
    inner.run(re2, im2, true);
    for (let k = 0; k < size; k++) {
      const [c, s] = [cos[k]!, sin[k]!];
      re[k] = re2[k]! * c - im2[k]! * s;
      im[k] = re2[k]! * s + im2[k]! * c;
    }
  };
  return { size, run: bothWays(size, forward) };
}

function bothWays(size: number, forward: (re: Float64Array, im: Float64Array) => void): FourierPlan['run'] {
  return (re, im, inverse = false) => {
    if (!inverse) {
      forward(re, im);
      return;
    }
    // The inverse is the transform of what is swapped, swapped.
    forward(im, re);
    for (let i = 0; i < size; i++) {
      re[i]! /= size;
      im[i]! /= size;
    }
  };
}

/** Transforms a picture of `width` × `height` in place, row by row. */
export function fourier2d(re: Float64Array, im: Float64Array, width: number, height: number, inverse = false): void {
  const across = fourierPlan(width);
  for (let y = 0; y < height; y++) {
    const [from, to] = [y * width, (y + 1) * width];
    across.run(re.subarray(from, to), im.subarray(from, to), inverse);
  }
  const up = fourierPlan(height);
  // Columns are gathered some at a time, so that each line of memory that is read serves them all.
  const many = Math.min(16, width);
  const lines = Array.from({ length: many }, () => [new Float64Array(height), new Float64Array(height)] as const);
  for (let x0 = 0; x0 < width; x0 += many) {
    const count = Math.min(many, width - x0);
    for (let y = 0; y < height; y++) {
      for (let k = 0; k < count; k++) {
        lines[k]![0][y] = re[y * width + x0 + k]!;
        lines[k]![1][y] = im[y * width + x0 + k]!;
      }
    }
    for (let k = 0; k < count; k++) up.run(lines[k]![0], lines[k]![1], inverse);
    for (let y = 0; y < height; y++) {
      for (let k = 0; k < count; k++) {
        re[y * width + x0 + k] = lines[k]![0][y]!;
        im[y * width + x0 + k] = lines[k]![1][y]!;
      }
    }
  }
}
