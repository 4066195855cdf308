import { linearToOklab, oklabToLinear } from '../color/oklab.ts';
import type { Image } from '../image/image.ts';
import { meanOf } from '../image/planes.ts';

/**
 * How an image is made like another: `mean` gives it the other's mean and spread, `histogram` its whole distribution.
 */
export const MATCH_WAYS = ['mean', 'histogram'] as const;
export type MatchWay = (typeof MATCH_WAYS)[number];

/** Values that stand for a distribution: finer than sixteen steps of eight bits. */
const QUANTILES = 4096;
/** Texels of an image that are sorted at most: hundreds for each value. */
const MOST_SORTED = 2 ** 20;

/**
 * An image in the tones of another: colours in OKLab, each of its axes by itself, grey in its own values. `mean` after
 * Reinhard, Ashikhmin, Gooch and Shirley, "Color Transfer between Images" (2001), with OKLab in place of their space;
 * `histogram` by histogram specification (Gonzalez and Woods, "Digital Image Processing").
 * @param image as light if its colour space is sRGB @param target of as many colour channels; of any size
 * @param amount 0 leaves the image, 1 matches it whole
 * @example matchTones(evening, noon, 'histogram', 1)
 */
export function matchTones(image: Image, target: Image, way: MatchWay, amount: number): Image {
  if (amount === 0) return image;
  const isColor = image.channels >= 3 && target.channels >= 3;
  const [own, other] = [axesOf(image, isColor), axesOf(target, isColor)];
  const data = image.data.slice();
  own.forEach((values, axis) => {
    const change = (way === 'mean' ? byMean : byHistogram)(values, other[axis]!);
    for (let i = 0; i < values.length; i++) values[i]! += (change(values[i]!) - values[i]!) * amount;
  });
  const { channels } = image;
  if (!isColor) own[0]!.forEach((value, i) => (data[i * channels] = value));
  else {
    const [L, a, b] = own as [Float32Array, Float32Array, Float32Array];
    for (let i = 0; i < L.length; i++) {
      const light = oklabToLinear([L[i]!, a[i]!, b[i]!]);
      for (let c = 0; c < 3; c++) data[i * channels + c] = Math.max(0, light[c]!);
    }
  }
  return { ...image, data };
}

/** The values of an image along one axis, or the three of OKLab. */
function axesOf({ channels, data }: Image, isColor: boolean): Float32Array[] {
  const texels = data.length / channels;
  const axes = Array.from({ length: isColor ? 3 : 1 }, () => new Float32Array(texels));
  for (let i = 0; i < texels; i++) {
    const at = i * channels;
    if (!isColor) axes[0]![i] = data[at]!;
    else {
      const lab = linearToOklab(Math.max(0, data[at]!), Math.max(0, data[at + 1]!), Math.max(0, data[at + 2]!));
      for (let k = 0; k < 3; k++) axes[k]![i] = lab[k]!;
    }
  }
  return axes;
}

function byMean(values: Float32Array, target: Float32Array): (value: number) => number {
  const [own, other] = [spreadOf(values), spreadOf(target)];
  // What is the same everywhere has no spread that could be changed.
  const scale = own.deviation > 1e-6 ? other.deviation / own.deviation : 1;
  return (value) => other.mean + (value - own.mean) * scale;
}

function spreadOf(values: Float32Array): { mean: number; deviation: number } {
  const mean = meanOf(values);
  let square = 0;
  for (const value of values) square += (value - mean) ** 2;
  return { mean, deviation: Math.sqrt(square / values.length) };
}

/** The value with the same rank in the target; between ranks in a straight line. */
function byHistogram(values: Float32Array, target: Float32Array): (value: number) => number {
  const [own, other] = [quantilesOf(values), quantilesOf(target)];
  return (value) => {
    // Between the first and the last rank that has the value: an even area stays even.
    const rank = (firstAbove(own, value, false) + firstAbove(own, value, true) - 1) / 2;
    const at = Math.max(0, Math.min(QUANTILES - 1, rank + between(own, rank, value)));
    const low = Math.floor(at);
    const high = Math.min(QUANTILES - 1, low + 1);
    return other[low]! + (other[high]! - other[low]!) * (at - low);
  };
}

/** How far a value lies beyond that of its rank, as a share of the way to the next. */
function between(quantiles: Float32Array, rank: number, value: number): number {
  const low = Math.floor(rank);
  if (low < 0 || low >= QUANTILES - 1 || low !== rank) return 0;
  const span = quantiles[low + 1]! - quantiles[low]!;
  return span > 0 ? Math.max(0, Math.min(1, (value - quantiles[low]!) / span)) : 0;
}

function quantilesOf(values: Float32Array): Float32Array {
  // An odd step goes through all columns of a picture whose width is even.
  const step = Math.ceil(values.length / MOST_SORTED) | 1;
  const sorted = values.filter((_, i) => i % step === 0).sort();
  return Float32Array.from({ length: QUANTILES }, (_, k) => {
    const at = (k / (QUANTILES - 1)) * (sorted.length - 1);
    const low = Math.floor(at);
    const high = Math.min(sorted.length - 1, low + 1);
    return sorted[low]! + (sorted[high]! - sorted[low]!) * (at - low);
  });
}

/** The first place in sorted values that holds more than a value, or as much. */
function firstAbove(sorted: Float32Array, value: number, more: boolean): number {
  let [low, high] = [0, sorted.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (more ? sorted[middle]! > value : sorted[middle]! >= value) high = middle;
    else low = middle + 1;
  }
  return low;
}
