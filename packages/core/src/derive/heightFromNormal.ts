import { fourier2d } from '../math/fourier.ts';
import type { Image } from '../image/image.ts';
import { planeLike } from '../image/planes.ts';

/**
 * Height from a tangent-space normal map, by the projection onto integrable surfaces in the Fourier domain (Frankot and
 * Chellappa, "A Method for Enforcing Integrability in Shape from Shading Algorithms", 1988). The map is taken to repeat;
 * one that does not is mirrored first, so that its ends do not pull at each other.
 * @param normal stored 0 to 1, Y up
 * @returns height 0 to 1, and how far apart the lowest and the highest place are, in tile widths
 */
export function heightFromNormal(normal: Image, repeats: boolean): { height: Image; depth: number } {
  const { width, height: rows } = normal;
  const [w, h] = repeats ? [width, rows] : [width * 2, rows * 2];
  // Slopes along x and y are carried as one complex picture, so that one transform serves both.
  const [re, im] = slopesOf(normal, w, h);
  fourier2d(re, im, w, h);
  integrate(re, im, w, h);
  fourier2d(re, im, w, h, true);
  const height = planeLike(normal);
  let [low, high] = [Infinity, -Infinity];
  for (let y = 0; y < rows; y++) {
    for (let x = 0; x < width; x++) {
      const value = re[y * w + x]!;
      if (value < low) low = value;
      if (value > high) high = value;
    }
  }
  const span = high - low;
  for (let y = 0; y < rows; y++) {
    for (let x = 0; x < width; x++) {
      height.data[y * width + x] = span > 1e-9 ? (re[y * w + x]! - low) / span : 0.5;
    }
  }
  return { height, depth: span / width };
}

/** Slopes a texel: along x in the first, down the rows in the second. Beyond the picture it is mirrored. */
function slopesOf({ width, height, channels, data }: Image, w: number, h: number): [Float64Array, Float64Array] {
  const [re, im] = [new Float64Array(w * h), new Float64Array(w * h)];
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      const [turnedX, turnedY] = [x >= width, y >= height];
      const at = ((turnedY ? 2 * height - 1 - y : y) * width + (turnedX ? 2 * width - 1 - x : x)) * channels;
      const z = Math.max(1e-3, data[at + 2]! * 2 - 1);
      const slopeX = -(data[at]! * 2 - 1) / z;
      // Y of the map points up, rows run down.
      const slopeY = (data[at + 1]! * 2 - 1) / z;
      re[y * w + x] = turnedX ? -slopeX : slopeX;
      im[y * w + x] = turnedY ? -slopeY : slopeY;
    }
  }
  return [re, im];
}

/** From both spectra of the slopes, laid over each other, to that of the height, in place. */
function integrate(re: Float64Array, im: Float64Array, w: number, h: number): void {
  const frequency = (k: number, n: number): number => {
    // The highest frequency of an even length has no slope that could be told from its negative.
    if (2 * k === n) return 0;
    return (2 * Math.PI * (2 * k < n ? k : k - n)) / n;
  };
  for (let y = 0; y < h; y++) {
    const my = (h - y) % h;
    for (let x = 0; x < w; x++) {
      const mx = (w - x) % w;
      const [at, other] = [y * w + x, my * w + mx];
      if (other < at) continue;
      const [fx, fy] = [frequency(x, w), frequency(y, h)];
      const square = fx * fx + fy * fy;
      const [a, b, c, d] = [re[at]!, im[at]!, re[other]!, im[other]!];
      // Spectrum of x: half of both; of y: half of their difference, turned by a right angle.
      const [pRe, pIm] = [(a + c) / 2, (b - d) / 2];
      const [qRe, qIm] = [(b + d) / 2, (c - a) / 2];
      const [hRe, hIm] = square === 0 ? [0, 0] : [(fx * pIm + fy * qIm) / square, -(fx * pRe + fy * qRe) / square];
      re[at] = hRe;
      im[at] = hIm;
      re[other] = hRe;
      im[other] = -hIm;
    }
  }
}
