import type { Image } from '../image/image.ts';
import type { Mix } from './overlap.ts';

/**
 * Mixing that keeps contrast: values are brought to a normal distribution by their rank, mixed there with their variance
 * restored, and brought back (Heitz and Neyret, "High-Performance By-Example Noise using a Histogram-Preserving Blending
 * Operator", 2018). Plain mixing averages, and goes dull where both ends show.
 * Channels are treated one by one.
 */
export function histogramPreservingMix(image: Image): Mix {
  const tables = Array.from({ length: image.channels }, (_, c) => rankTable(image, c));
  return (start, end, weight, channel) => {
    if (weight <= 0) return start;
    if (weight >= 1) return end;
    const { sorted, normals } = tables[channel]!;
    const a = normals[rankOf(sorted, start)]!;
    const b = normals[rankOf(sorted, end)]!;
    const mixed = (a * (1 - weight) + b * weight) / Math.hypot(1 - weight, weight);
    return fromNormal(sorted, mixed);
  };
}

/** Ranks are told apart in so many steps at the most. */
const STEPS = 4096;

/** Values of one channel in order, and the normal value of each rank, counted in halves. */
function rankTable(image: Image, channel: number): { sorted: Float32Array; normals: Float64Array } {
  const sorted = inOrder(image, channel);
  const twice = 2 * sorted.length;
  const normals = Float64Array.from({ length: twice + 1 }, (_, half) =>
    inverseNormal(Math.max(1, Math.min(twice - 1, half)) / twice),
  );
  return { sorted, normals };
}

/** Values of one channel in order, thinned out evenly. */
function inOrder({ data, channels }: Image, channel: number): Float32Array {
  const all = new Float32Array(data.length / channels);
  for (let i = 0; i < all.length; i++) all[i] = data[i * channels + channel]!;
  all.sort();
  if (all.length <= STEPS) return all;
  return Float32Array.from({ length: STEPS }, (_, i) => all[Math.floor(((i + 0.5) / STEPS) * all.length)]!);
}

/** Twice the rank of a value: between the first place where it could stand and the last, for equal values share one. */
const rankOf = (sorted: Float32Array, value: number): number =>
  below(sorted, value, false) + below(sorted, value, true);

function fromNormal(sorted: Float32Array, value: number): number {
  const place = normal(value) * sorted.length - 0.5;
  const low = Math.max(0, Math.min(sorted.length - 1, Math.floor(place)));
  const high = Math.min(sorted.length - 1, low + 1);
  const share = Math.max(0, Math.min(1, place - low));
  return sorted[low]! * (1 - share) + sorted[high]! * share;
}

/** How many values are smaller, or (with `orEqual`) not larger. */
function below(sorted: Float32Array, value: number, orEqual: boolean): number {
  let [low, high] = [0, sorted.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (sorted[middle]! < value || (orEqual && sorted[middle] === value)) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** The normal distribution function, by the error function of Abramowitz and Stegun, 7.1.26 (from memory). */
function normal(x: number): number {
  const t = 1 / (1 + 0.3275911 * (Math.abs(x) / Math.SQRT2));
  const poly = t * (0.254829592 + t * (-0.284496736 + t * (1.421413741 + t * (-1.453152027 + t * 1.061405429))));
  const half = 0.5 * poly * Math.exp((-x * x) / 2);
  return x >= 0 ? 1 - half : half;
}

/** Its inverse, by halving the interval: exact to what the function itself is. */
function inverseNormal(share: number): number {
  let [low, high] = [-6, 6];
  for (let n = 0; n < 40; n++) {
    const middle = (low + high) / 2;
    if (normal(middle) < share) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}
