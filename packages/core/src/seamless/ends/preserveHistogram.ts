import type { Image } from '../../image/image.ts';
import { principalAxes } from '../../image/principalAxes.ts';
import type { Mix } from './overlap.ts';

/**
 * Mixing that keeps contrast: values are brought to a normal distribution by their rank, mixed there with their variance
 * restored, and brought back (Heitz and Neyret, "High-Performance By-Example Noise using a Histogram-Preserving Blending
 * Operator", 2018). Plain mixing averages, and goes dull where both ends show. Colours are ranked along the axes on which
 * they do not depend on each other (Deliot and Heitz, "Procedural Stochastic Textures by Tiling and Blending", 2019), so
 * that no hue comes up that the picture does not have; no channel leaves the range it has.
 */
export function histogramPreservingMix(image: Image): Mix {
  const { channels } = image;
  const samples = samplesOf(image);
  const axes = principalAxes(samples, channels);
  const ranges = Array.from({ length: channels }, (_, c) => rangeOf(samples, channels, c));
  const lows = Float64Array.from(ranges, ([low]) => low);
  const highs = Float64Array.from(ranges, ([, high]) => high);
  const tables = Array.from({ length: channels }, (_, k) => {
    const values = new Float32Array(samples.length / channels);
    for (let i = 0; i < values.length; i++) values[i] = along(axes, k, channels, samples, i * channels);
    return rankTable(values);
  });
  const mixed = new Float64Array(channels);
  return (from, start, end, weights, to, at) => {
    for (let i = 0; i < weights.length; i++) {
      const weight = weights[i]!;
      const [first, last, out] = [start + i * channels, end + i * channels, at + i * channels];
      if (weight <= 0 || weight >= 1) {
        const texel = weight <= 0 ? first : last;
        for (let c = 0; c < channels; c++) to[out + c] = from[texel + c]!;
        continue;
      }
      const spread = Math.sqrt((1 - weight) ** 2 + weight ** 2);
      for (let k = 0; k < channels; k++) {
        const table = tables[k]!;
        const a = table.normals[rankOf(table, along(axes, k, channels, from, first))]!;
        const b = table.normals[rankOf(table, along(axes, k, channels, from, last))]!;
        mixed[k] = fromNormal(table.sorted, (a * (1 - weight) + b * weight) / spread);
      }
      for (let c = 0; c < channels; c++) {
        let sum = 0;
        for (let k = 0; k < channels; k++) sum += axes[k * channels + c]! * mixed[k]!;
        to[out + c] = Math.max(lows[c]!, Math.min(highs[c]!, sum));
      }
    }
  };
}

/** How far a texel lies along an axis. */
function along(axes: Float64Array, axis: number, channels: number, data: Float32Array, at: number): number {
  let sum = 0;
  for (let c = 0; c < channels; c++) sum += axes[axis * channels + c]! * data[at + c]!;
  return sum;
}

/** Ranks are told apart in so many steps at the most, found from so many texels. */
const STEPS = 4096;
const SAMPLES = 1 << 14;

/** Texels spread over a picture by the golden ratio, which meets no pattern of it; all of them, if they are few. */
function samplesOf({ data, channels }: Image): Float32Array {
  const count = data.length / channels;
  if (count <= SAMPLES) return data;
  const samples = new Float32Array(SAMPLES * channels);
  const golden = (Math.sqrt(5) - 1) / 2;
  for (let i = 0; i < SAMPLES; i++) {
    const texel = Math.floor(((i * golden) % 1) * count) * channels;
    for (let c = 0; c < channels; c++) samples[i * channels + c] = data[texel + c]!;
  }
  return samples;
}

function rangeOf(samples: Float32Array, channels: number, channel: number): [low: number, high: number] {
  let [low, high] = [Infinity, -Infinity];
  for (let at = channel; at < samples.length; at += channels) {
    low = Math.min(low, samples[at]!);
    high = Math.max(high, samples[at]!);
  }
  return [low, high];
}

/** Values in order, thinned out evenly. */
interface RankTable {
  sorted: Float32Array;
  /** The normal value of each rank, counted in halves. */
  normals: Float64Array;
  /** How many values lie below each of equal steps from the least to the largest. */
  starts: Int32Array;
  perStep: number;
}

function rankTable(values: Float32Array): RankTable {
  const all = values.sort();
  const sorted =
    all.length <= STEPS
      ? all
      : Float32Array.from({ length: STEPS }, (_, i) => all[Math.floor(((i + 0.5) / STEPS) * all.length)]!);
  const [least, largest] = [sorted[0]!, sorted.at(-1)!];
  const perStep = largest > least ? STEPS / (largest - least) : 0;
  const starts = new Int32Array(STEPS + 1);
  for (let i = 0; i < sorted.length; i++) starts[Math.floor((sorted[i]! - least) * perStep)]! += 1;
  for (let step = 0, sum = 0; step <= STEPS; step++) {
    const own = starts[step]!;
    starts[step] = sum;
    sum += own;
  }
  return { sorted, normals: normalsOf(2 * sorted.length), starts, perStep };
}

const knownNormals = new Map<number, Float64Array>();

/** Normal values of so many ranks; they do not depend on the picture. */
function normalsOf(ranks: number): Float64Array {
  let normals = knownNormals.get(ranks);
  if (!normals) {
    normals = Float64Array.from({ length: ranks + 1 }, (_, rank) =>
      inverseNormal(Math.max(1, Math.min(ranks - 1, rank)) / ranks),
    );
    knownNormals.clear();
    knownNormals.set(ranks, normals);
  }
  return normals;
}

/** Twice the rank of a value: between the first place where it could stand and the last, for equal values share one. */
function rankOf({ sorted, starts, perStep }: RankTable, value: number): number {
  const step = Math.max(0, Math.min(STEPS, Math.floor((value - sorted[0]!) * perStep)));
  const end = step < STEPS ? starts[step + 1]! : sorted.length;
  const first = below(sorted, value, false, starts[step]!, end);
  return first + (sorted[first] === value ? below(sorted, value, true, first, end) : first);
}

function fromNormal(sorted: Float32Array, value: number): number {
  const place = quickNormal(value) * sorted.length - 0.5;
  const low = Math.max(0, Math.min(sorted.length - 1, Math.floor(place)));
  const high = Math.min(sorted.length - 1, low + 1);
  const share = Math.max(0, Math.min(1, place - low));
  return sorted[low]! * (1 - share) + sorted[high]! * share;
}

/** How many values are smaller, or (with `orEqual`) not larger, of which it is known to be from `low` to `high`. */
function below(sorted: Float32Array, value: number, orEqual: boolean, low: number, high: number): number {
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

/** Steps of the table below, and how far from 0 it reaches. */
const NORMAL_STEPS = 4096;
const NORMAL_REACH = 6;
let normalTable: Float64Array | null = null;

/** The same from a table: off by less than 3e-7 more. */
function quickNormal(x: number): number {
  normalTable ??= Float64Array.from({ length: NORMAL_STEPS + 2 }, (_, i) =>
    normal((i / NORMAL_STEPS) * 2 * NORMAL_REACH - NORMAL_REACH),
  );
  const place =
    ((Math.max(-NORMAL_REACH, Math.min(NORMAL_REACH, x)) + NORMAL_REACH) / (2 * NORMAL_REACH)) * NORMAL_STEPS;
  const step = Math.floor(place);
  const below = normalTable[step]!;
  return below + (normalTable[step + 1]! - below) * (place - step);
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
