import { TexelState } from '../image/image.ts';
import type { Size } from '../math/size.ts';
import { GUIDES, type LightTarget } from './lightBaker.ts';
import { ACCUMULATED } from './passes.ts';

/** Weights of a cubic B-spline, from −2 to 2. */
const SPLINE = [1 / 16, 1 / 4, 3 / 8, 1 / 4, 1 / 16] as const;
/** Neighbours lie 1, 2, 4, 8 and 16 texels apart. */
const LEVELS = 5;
/** Numbers of light that comes from elsewhere, which lie first. */
const LIT = ACCUMULATED.emission;
/** How many times the noise light may differ by, at full strength. */
const NOISES = 3;
const NORMAL_SPREAD = 0.1;
const COLOR_SPREAD = 0.05;

/**
 * Takes noise out of what was counted: each texel becomes a mean of those about it that look alike, ever farther apart
 * (Dammertz, Sewtz, Hanika and Lensch, "Edge-Avoiding À-Trous Wavelet Transform for fast Global Illumination Filtering",
 * 2010), led by the surface's place, normal and colour and by the light itself. Nothing goes from one island to another. All
 * passes get the same weights, so that they still add up.
 * @param stride numbers for each texel @param strength 0 to 1
 * @param check called row by row; throws where it is to stop
 */
export function denoise(
  { sums, differences, states, islands, guides }: LightTarget,
  { width, height }: Size,
  stride: number,
  strength: number,
  check: () => void = () => {},
): void {
  if (strength <= 0 || !guides || !islands) return;
  const texels = width * height;
  const noise = noiseOf(differences, states);
  if (noise === 0) return;
  // What is filtered: all light and what falls on the surface; what surfaces send by themselves has no noise.
  const filtered = [
    ...Array.from({ length: LIT }, (_, k) => k),
    ...[0, 1, 2].map((c) => ACCUMULATED.irradiance + c),
    ACCUMULATED.unoccluded,
    ACCUMULATED.visible,
    ACCUMULATED.sky,
    ...[0, 1, 2].map((k) => ACCUMULATED.direction + k),
  ];
  const before = new Float32Array(texels * filtered.length);
  const light = new Float32Array(texels);
  let spread = noise * NOISES * strength;
  for (let level = 0; level < LEVELS; level++) {
    const step = 2 ** level;
    for (let i = 0; i < texels; i++) {
      if (states[i] !== TexelState.covered) continue;
      let sum = 0;
      for (let k = 0; k < LIT; k++) sum += sums[i * stride + k]!;
      light[i] = sum / 3;
      for (let k = 0; k < filtered.length; k++) before[i * filtered.length + k] = sums[i * stride + filtered[k]!]!;
    }
    const mean = new Float64Array(filtered.length);
    for (let y = 0; y < height; y++) {
      check();
      for (let x = 0; x < width; x++) {
        const at = y * width + x;
        if (states[at] !== TexelState.covered) continue;
        mean.fill(0);
        let total = 0;
        for (let j = -2; j <= 2; j++) {
          const row = y + j * step;
          if (row < 0 || row >= height) continue;
          for (let i = -2; i <= 2; i++) {
            const column = x + i * step;
            if (column < 0 || column >= width) continue;
            const other = row * width + column;
            if (states[other] !== TexelState.covered || islands[other] !== islands[at]) continue;
            const off = (light[other]! - light[at]!) / spread;
            const unlike = off * off + unlikeness(guides, at, other);
            if (unlike > 12) continue;
            const weight = SPLINE[i + 2]! * SPLINE[j + 2]! * Math.exp(-unlike);
            total += weight;
            for (let k = 0; k < mean.length; k++) mean[k]! += before[other * mean.length + k]! * weight;
          }
        }
        for (let k = 0; k < mean.length; k++) sums[at * stride + filtered[k]!] = mean[k]! / total;
      }
    }
    // Less noise is left, and finer edges of light can be told.
    spread /= 2;
  }
}

/** Root of the mean square of what halves of the samples differ by. */
function noiseOf(differences: Float32Array, states: Uint8Array): number {
  let squares = 0;
  let count = 0;
  for (let i = 0; i < states.length; i++) {
    if (states[i] !== TexelState.covered) continue;
    squares += differences[i]! ** 2;
    count++;
  }
  return count > 0 ? Math.sqrt(squares / count) : 0;
}

/** How unlike two places are: 1 is a good deal, 4 is much. */
function unlikeness(guides: Float32Array, a: number, b: number): number {
  const p = a * GUIDES;
  const q = b * GUIDES;
  let normal = 0;
  let color = 0;
  let above = 0;
  let apart = 0;
  for (let k = 0; k < 3; k++) {
    normal += (guides[p + 3 + k]! - guides[q + 3 + k]!) ** 2;
    color += (guides[p + 6 + k]! - guides[q + 6 + k]!) ** 2;
    const off = guides[q + k]! - guides[p + k]!;
    above += off * guides[p + 3 + k]!;
    apart += off * off;
  }
  // How far one lies off the other's plane, for how far apart they are.
  const plane = apart > 0 ? (above * above) / apart : 0;
  return normal / NORMAL_SPREAD + color / COLOR_SPREAD ** 2 + plane * 4;
}
