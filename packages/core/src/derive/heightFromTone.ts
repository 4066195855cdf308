import { blur } from '../image/filter/blur.ts';
import type { Image } from '../image/image.ts';
import { planeLike } from '../image/planes.ts';
import { resample, type Border } from '../image/filter/resample.ts';

/** How wide what each band holds is, as a share of the tile's width: from grain to swells. What is wider is the last. */
export const BAND_WIDTHS = [1 / 512, 1 / 256, 1 / 128, 1 / 64, 1 / 32, 1 / 16] as const;

/** One weight for each band and one for what is wider. */
export const BANDS = BAND_WIDTHS.length + 1;

export const TONE_WAYS = ['light-high', 'dark-high', 'by-detail-size'] as const;
export type ToneWay = (typeof TONE_WAYS)[number];

export interface ToneHeight {
  way: ToneWay;
  /** Weights of the bands, from the finest; below 0 turns a band round. */
  weights: readonly number[];
  /** About the middle; 1 uses the whole range. */
  contrast: number;
  /** Moves all heights up or down. */
  bias: number;
}

export const DEFAULT_TONE_HEIGHT: ToneHeight = {
  way: 'light-high',
  // What is finer than the finest band is noise of the camera, and would be steeper the more texels there are.
  weights: [0, 0.75, 1, 1, 1, 1, 0.5],
  contrast: 1,
  bias: 0,
};

/** A tone, and how it looks ever more widely blurred: what differs from one to the next is a band of its detail. */
export interface ToneScales {
  tone: Image;
  /** By number of `BAND_WIDTHS`, made when first asked for; wide ones are held small, for they have no detail that could be lost. */
  blurred: (k: number) => Image;
  border: Border;
}

export function toneScales(tone: Image, border: Border): ToneScales {
  const known: Image[] = [];
  const blurred = (k: number): Image => (known[k] ??= wideBlur(tone, BAND_WIDTHS[k]! * tone.width, border));
  return { tone, blurred, border };
}

/** The bands, which add up to the tone; from the finest. */
export function* bandsOf(scales: ToneScales): Generator<Image> {
  const { tone } = scales;
  let finer = tone.data;
  for (let k = 0; k < BAND_WIDTHS.length; k++) {
    const wider = inFull(scales, k);
    const band = planeLike(tone);
    for (let i = 0; i < band.data.length; i++) band.data[i] = finer[i]! - wider[i]!;
    yield band;
    finer = wider;
  }
  yield planeLike(tone, finer);
}

const inFull = ({ tone, blurred, border }: ToneScales, k: number): Float32Array =>
  resample(blurred(k), tone, 'linear', border).data;

/** Texels of a reduced copy that make up the standard deviation of a blur. */
const TEXELS_OF_BLUR = 6;

/** A blur, reduced if it is wide. What reducing and enlarging blur by themselves is counted in. */
function wideBlur(image: Image, sigma: number, border: Border): Image {
  const shorter = Math.min(image.width, image.height);
  const factor = Math.min(Math.floor(sigma / TEXELS_OF_BLUR), shorter / 8);
  if (factor < 2) return blur(image, sigma, border);
  const size = { width: Math.round(image.width / factor), height: Math.round(image.height / factor) };
  const small = resample(image, size, 'linear', border);
  // Each triangle has the variance of a sixth of a small texel's square.
  const left = Math.sqrt(Math.max(0, (sigma / factor) ** 2 - 1 / 3));
  return blur(small, left, border);
}

/**
 * Height as tone tells it: bands are weighed, turned round where dark is high, and spread so that all but the outermost
 * heights lie between 0 and 1.
 * @param signs of `suggestHeight`, for going band by band
 */
export function heightFromTone(scales: ToneScales, settings: ToneHeight, signs: readonly number[]): Image {
  const { way, weights, contrast, bias } = settings;
  const ofBand = Array.from({ length: BANDS }, (_, k) => {
    const sign = way === 'light-high' ? 1 : way === 'dark-high' ? -1 : signs[k]!;
    return sign * (weights[k] ?? 0);
  });
  // Each blurred tone is the coarser side of one band and the finer side of the next.
  const shares = ofBand.map((weight, k) => (k === 0 ? weight : weight - ofBand[k - 1]!));
  const { tone } = scales;
  let sum: Float32Array | null = null;
  for (let k = BANDS - 1; k > 0; k--) {
    if (shares[k] === 0) continue;
    const own = inFull(scales, k - 1);
    if (sum) {
      addTimes(sum, 1, own, shares[k]!);
      continue;
    }
    // The first of them takes up the others, unless it is held: fresh memory costs more than the sum.
    sum = own === scales.blurred(k - 1).data ? own.slice() : own;
    addTimes(sum, shares[k]!, tone.data, shares[0]!);
  }
  const data = sum ?? tone.data.map((value) => value * shares[0]!);
  const [low, high] = outermost(data, 0.005);
  const scale = high > low ? contrast / (high - low) : 0;
  const middle = (low + high) / 2;
  for (let i = 0; i < data.length; i++) {
    data[i] = Math.max(0, Math.min(1, 0.5 + bias + (data[i]! - middle) * scale));
  }
  return planeLike(tone, data);
}

function addTimes(sum: Float32Array, times: number, other: Float32Array, share: number): void {
  for (let i = 0; i < sum.length; i++) sum[i] = sum[i]! * times + other[i]! * share;
}

/** The values that a share of all lie below, and above. */
function outermost(data: Float32Array, share: number): [number, number] {
  const most = 1 << 16;
  const stride = Math.max(1, Math.floor(data.length / most));
  const some = Float32Array.from({ length: Math.ceil(data.length / stride) }, (_, i) => data[i * stride]!).sort();
  const at = Math.floor(share * (some.length - 1));
  return [some[at]!, some[some.length - 1 - at]!];
}

export interface HeightSuggestion {
  way: 'light-high' | 'dark-high';
  /** Why, in words. */
  reason: string;
  /** For each band, 1 where light is taken for high, −1 where dark is. */
  signs: number[];
}

/**
 * Whether light or dark is likely to be high: joints, cracks and pores are narrow and dark and lie deep, so tone has a
 * tail on its dark side; grains and studs that stand out and catch the light make one on the other side (common practice,
 * no source). Measured as the skewness of each band.
 */
export function suggestHeight(scales: ToneScales): HeightSuggestion {
  const skews = Array.from(bandsOf(scales), ({ data }) => skewness(data));
  const signs = skews.map(({ skew }) => (skew <= 0.05 ? 1 : -1));
  // Bands that hold more of the picture's changes count more.
  const fine = skews.slice(0, -1);
  const total = fine.reduce((sum, { variance }) => sum + variance, 0) || 1;
  const mean = fine.reduce((sum, { skew, variance }) => sum + (skew * variance) / total, 0);
  if (Math.abs(mean) < 0.05) {
    return {
      way: 'light-high',
      reason: 'Dark and light places are about alike here, so light is taken for high, as light from above makes it.',
      signs,
    };
  }
  return mean < 0
    ? {
        way: 'light-high',
        reason:
          'Dark places are narrower and stand out more than light ones, as cracks and joints do; they are likely to be deep.',
        signs,
      }
    : {
        way: 'dark-high',
        reason:
          'Light places are narrower and stand out more than dark ones, as worn edges or filled joints do; here dark is likely to be high.',
        signs,
      };
}

function skewness(data: Float32Array): { skew: number; variance: number } {
  let [sum, squares, cubes] = [0, 0, 0];
  for (const value of data) sum += value;
  const mean = sum / data.length;
  for (const value of data) {
    const off = value - mean;
    squares += off * off;
    cubes += off * off * off;
  }
  const variance = squares / data.length;
  return { skew: variance > 1e-12 ? cubes / data.length / variance ** 1.5 : 0, variance };
}
