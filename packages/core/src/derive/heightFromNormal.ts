import { kernelTeam } from '../kernel/kernelTeam.ts';
import { fourier2d } from '../math/fourier.ts';
import { fourier2dInKernel } from '../math/fourierInKernel.ts';
import type { Size } from '../math/size.ts';
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
  const { width, height } = normal;
  const size = repeats ? { width, height } : { width: width * 2, height: height * 2 };
  const team = kernelTeam();
  if (!team) {
    const [re, im] = [new Float64Array(size.width * size.height), new Float64Array(size.width * size.height)];
    slopesOf(normal, re, im, size);
    fourier2d(re, im, size.width, size.height);
    integrate(re, im, size.width, size.height);
    fourier2d(re, im, size.width, size.height, true);
    return heightOf(normal, re, size.width);
  }
  return team.within(() => {
    const texels = size.width * size.height;
    const spectrum = { re: team.take(texels * 8), im: team.take(texels * 8), ...size };
    // Looked at anew each time: what the kernel takes to work in may move its memory.
    const parts = (): [Float64Array, Float64Array] => [
      team.doubles(spectrum.re, texels),
      team.doubles(spectrum.im, texels),
    ];
    slopesOf(normal, ...parts(), size);
    fourier2dInKernel(team, spectrum);
    integrate(...parts(), size.width, size.height);
    fourier2dInKernel(team, spectrum, true);
    return heightOf(normal, parts()[0], size.width);
  });
}

/** @param values heights in texels, row by row of `stride` */
function heightOf(normal: Image, values: Float64Array, stride: number): { height: Image; depth: number } {
  const { width, height: rows } = normal;
  const height = planeLike(normal);
  let [low, high] = [Infinity, -Infinity];
  for (let y = 0; y < rows; y++) {
    for (let x = 0; x < width; x++) {
      const value = values[y * stride + x]!;
      if (value < low) low = value;
      if (value > high) high = value;
    }
  }
  const span = high - low;
  for (let y = 0; y < rows; y++) {
    for (let x = 0; x < width; x++) {
      height.data[y * width + x] = span > 1e-9 ? (values[y * stride + x]! - low) / span : 0.5;
    }
  }
  return { height, depth: span / width };
}

/**
 * Slopes a texel, carried as one complex picture, so that one transform serves both: along x as real parts, down the rows
 * as imaginary ones. Beyond the picture it is mirrored.
 */
function slopesOf(
  { width, height, channels, data }: Image,
  re: Float64Array,
  im: Float64Array,
  { width: w, height: h }: Size,
): void {
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
