import type { Size } from '../math/size.ts';
import { colorRamp, type ColorStop } from '../color/ramp.ts';
import { blended, type BlendMode } from '../image/blend.ts';
import type { Image } from '../image/image.ts';
import { smoothStep } from '../image/planes.ts';
import { cellularNoise } from './cellularNoise.ts';
import { domainOf, type FieldWrap } from './domain.ts';
import { gradientNoise } from './gradientNoise.ts';
import { permutationOf, type Noise } from './lattice.ts';
import { bricks, dots, grid, ramp, scales, weave, type RAMP_WAYS } from './shapes.ts';
import { simplexNoise } from './simplexNoise.ts';

export const FIELD_KINDS = [
  'gradient-noise',
  'simplex-noise',
  'cells',
  'cracks',
  'bricks',
  'scales',
  'weave',
  'dots',
  'grid',
  'gradient',
] as const;
export type FieldKind = (typeof FIELD_KINDS)[number];

export const NOISE_STYLES = ['smooth', 'ridged', 'billowed'] as const;

/** One layer of a field. What its kind does not need is not looked at. */
export interface FieldLayer {
  kind: FieldKind;
  /** Cells of a noise across the tile. */
  scale: number;
  seed: number;
  /** How many noises are added up, each finer than the one before. */
  octaves: number;
  /** How much finer. */
  lacunarity: number;
  /** How much weaker. */
  gain: number;
  style: (typeof NOISE_STYLES)[number];
  /** Of cells: how far points are from the middle of theirs. */
  jitter: number;
  measure: 'nearest' | 'second' | 'border' | 'flat';
  /** Of patterns. */
  columns: number;
  rows: number;
  shift: number;
  /** Joints, lines and cracks, as a share of a cell. */
  line: number;
  /** Dots and threads, as a share of a cell. */
  thickness: number;
  /** Slopes of edges, as a share. */
  bevel: number;
  variety: number;
  /** Threads that each thread passes over. */
  over: number;
  way: (typeof RAMP_WAYS)[number];
  times: number;
  /** Moves places by a noise before the layer is asked: how far, in tile widths, and how many cells. */
  warp: { amount: number; scale: number; seed: number };
  /** Values that become 0 and 1. */
  levels: readonly [low: number, high: number];
  /** Makes it black and white about a value, with a soft edge. */
  threshold: { at: number; soft: number } | null;
  invert: boolean;
  blend: BlendMode;
  opacity: number;
}

export const DEFAULT_LAYER: FieldLayer = {
  kind: 'gradient-noise',
  scale: 6,
  seed: 1,
  octaves: 6,
  lacunarity: 2,
  gain: 0.5,
  style: 'smooth',
  jitter: 1,
  measure: 'nearest',
  columns: 8,
  rows: 8,
  shift: 0.5,
  line: 0.1,
  thickness: 0.8,
  bevel: 0.1,
  variety: 0.3,
  over: 1,
  way: 'wave',
  times: 1,
  warp: { amount: 0, scale: 3, seed: 7 },
  levels: [0, 1],
  threshold: null,
  invert: false,
  blend: 'normal',
  opacity: 1,
};

export interface FieldOptions {
  layers: readonly FieldLayer[];
  wrap: FieldWrap;
  /** Samples along each side of a texel. */
  samples: number;
}

/**
 * A value 0 to 1 at a place of the tile, 0 to 1, v downwards.
 * @param place the same place in the domain of the field
 */
type Evaluate = (u: number, v: number, place: Float64Array) => number;

/**
 * Rows of a procedural field, 0 to 1. Noises finer than the samples fade to their mean and patterns are softened over
 * the distance of samples, so that a field neither shimmers nor changes its tone with its size.
 * @param out as many values as the rows have texels
 */
export function fieldRows(options: FieldOptions, size: Size, from: number, to: number, out: Float32Array): void {
  const { layers, samples } = options;
  const step = 1 / (size.width * samples);
  const aspect = size.height / size.width;
  const evaluate = layers.map((layer) => ({ layer, at: layerValue(layer, options.wrap, step, aspect) }));
  const share = 1 / (samples * samples);
  const domain = domainOf(options.wrap, aspect);
  const place = new Float64Array(4);
  for (let y = from; y < to; y++) {
    for (let x = 0; x < size.width; x++) {
      let sum = 0;
      for (let s = 0; s < samples * samples; s++) {
        const u = (x + ((s % samples) + 0.5) / samples) / size.width;
        const v = (y + (Math.floor(s / samples) + 0.5) / samples) / size.height;
        domain.place(u, v, place);
        let value = 0;
        for (const { layer, at } of evaluate) {
          const above = at(u, v, place);
          value += (blended(layer.blend, value, above) - value) * layer.opacity;
        }
        sum += value;
      }
      out[(y - from) * size.width + x] = sum * share;
    }
  }
}

/** A whole field as a grey picture. */
export function fieldImage(options: FieldOptions, size: Size): Image {
  const data = new Float32Array(size.width * size.height);
  fieldRows(options, size, 0, size.height, data);
  return { ...size, channels: 1, data };
}

/** A grey picture in the colours of a ramp, as light. */
export function coloured({ width, height, data }: Image, stops: readonly ColorStop[]): Image {
  const paint = colorRamp(stops);
  const colors = new Float32Array(data.length * 3);
  data.forEach((value, i) => paint(value, colors, i * 3));
  return { width, height, channels: 3, data: colors, colorSpace: 'srgb' };
}

function layerValue(layer: FieldLayer, wrap: FieldWrap, step: number, aspect: number): Evaluate {
  const value = warped(layer, wrap, aspect, kindValue(layer, wrap, step, aspect));
  const {
    levels: [low, high],
    threshold,
    invert,
  } = layer;
  const span = high - low || 1;
  return (u, v, place) => {
    let result = Math.max(0, Math.min(1, (value(u, v, place) - low) / span));
    if (threshold) result = smoothStep(threshold.at - threshold.soft / 2, threshold.at + threshold.soft / 2, result);
    return invert ? 1 - result : result;
  };
}

function warped({ warp }: FieldLayer, wrap: FieldWrap, aspect: number, value: Evaluate): Evaluate {
  if (warp.amount === 0) return value;
  const domain = domainOf(wrap, aspect);
  const { amount, scale } = warp;
  const moved = new Float64Array(4);
  const across = gradientNoise(permutationOf(warp.seed), domain.dimensions);
  const up = gradientNoise(permutationOf(warp.seed + 1), domain.dimensions);
  return (u, v, place) => {
    const x = place[0]! * scale;
    const y = place[1]! * scale;
    const z = place[2]! * scale;
    const w = place[3]! * scale;
    const nu = u + across(x, y, z, w) * amount;
    const nv = v + (up(x, y, z, w) * amount) / aspect;
    domain.place(nu, nv, moved);
    return value(nu, nv, moved);
  };
}

/** Patterns whose rows take turns repeat only with an even number of them. */
const even = (count: number): number => 2 * Math.ceil(count / 2);

function kindValue(layer: FieldLayer, wrap: FieldWrap, step: number, aspect: number): Evaluate {
  const { columns, rows, line, thickness, bevel, variety, seed, shift, over } = layer;
  switch (layer.kind) {
    case 'gradient-noise':
    case 'simplex-noise':
      return fractal(layer, wrap, step, aspect);
    case 'cells':
    case 'cracks':
      return cellular(layer, wrap, step, aspect);
    case 'bricks': {
      const options = { columns, rows: shift === 0 ? rows : even(rows), shift, gap: line, bevel, variety, seed };
      return (u, v) => bricks(inTile(u), inTile(v), step, aspect, options);
    }
    case 'scales':
      return (u, v) => scales(inTile(u), inTile(v), step, columns, even(rows));
    case 'weave': {
      const period = 2 * over;
      const whole = (count: number): number => period * Math.max(1, Math.round(count / period));
      const options = { columns: whole(columns), rows: whole(rows), thickness, over };
      return (u, v) => weave(inTile(u), inTile(v), step, options);
    }
    case 'dots': {
      const staggered = shift !== 0;
      const options = { columns, rows: staggered ? even(rows) : rows, size: thickness, staggered, soft: bevel };
      return (u, v) => dots(inTile(u), inTile(v), step, aspect, options);
    }
    case 'grid':
      return (u, v) => grid(inTile(u), inTile(v), step, { columns, rows, line, soft: bevel });
    case 'gradient':
      return (u, v) => ramp(inTile(u), inTile(v), aspect, layer.way, layer.times);
  }
}

const inTile = (value: number): number => value - Math.floor(value);

/** Noises finer than this many samples to a cell are gone; up to twice as many they fade. */
const FINEST = 2;

/** Sums of ever finer noises (Perlin 1985; the ridged and billowed kinds after Musgrave 1994). */
function fractal(
  { kind, scale, seed, octaves, lacunarity, gain, style }: FieldLayer,
  wrap: FieldWrap,
  step: number,
  aspect: number,
): Evaluate {
  const domain = domainOf(wrap, aspect);
  const make = kind === 'simplex-noise' ? simplexNoise : gradientNoise;
  const parts = Array.from({ length: octaves }, (_, k) => {
    const cells = scale * lacunarity ** k;
    const noise = styled(make(permutationOf(seed + k * 101), domain.dimensions), style);
    return { cells, noise, weight: gain ** k, shown: smoothStep(FINEST, 2 * FINEST, 1 / cells / step) };
  });
  const total = parts.reduce((sum, { weight }) => sum + weight, 0);
  const shown = parts.filter((part) => part.shown > 0).map((part) => ({ ...part, mean: meanOf(part.noise) }));
  const hidden = parts
    .filter((part) => part.shown === 0)
    .reduce((sum, { weight, noise }) => sum + weight * meanOf(noise), 0);
  return (_u, _v, place) => {
    let sum = hidden;
    for (const { cells, noise, weight, shown: share, mean } of shown) {
      const value = noise(place[0]! * cells, place[1]! * cells, place[2]! * cells, place[3]! * cells);
      sum += weight * (mean + (value - mean) * share);
    }
    return sum / total;
  };
}

/** A noise of −1 to 1 as 0 to 1. */
function styled(noise: Noise, style: FieldLayer['style']): Noise {
  switch (style) {
    case 'smooth':
      return (x, y, z, w) => 0.5 + 0.5 * noise(x, y, z, w);
    case 'ridged':
      return (x, y, z, w) => (1 - Math.min(1, Math.abs(noise(x, y, z, w)))) ** 2;
    case 'billowed':
      return (x, y, z, w) => Math.min(1, Math.abs(noise(x, y, z, w)));
  }
}

/** The mean of a noise, by places that are far from each other and from its lattice. */
function meanOf(noise: Noise): number {
  const COUNT = 512;
  let sum = 0;
  for (let i = 1; i <= COUNT; i++) sum += noise(i * 7.618, i * 3.754877, i * 5.56984, i * 2.8812714);
  return sum / COUNT;
}

function cellular(layer: FieldLayer, wrap: FieldWrap, step: number, aspect: number): Evaluate {
  const { scale, seed, jitter, measure, line, bevel, kind } = layer;
  const domain = domainOf(wrap, aspect);
  const distances = cellularNoise(permutationOf(seed), domain.dimensions, jitter);
  return (_u, _v, place) => {
    const { nearest, second, id } = distances(
      place[0]! * scale,
      place[1]! * scale,
      place[2]! * scale,
      place[3]! * scale,
    );
    // Half the difference is the distance to the border, as long as both points are about opposite.
    if (kind === 'cracks') {
      const soft = Math.max(bevel, step * scale);
      return smoothStep(line / 2 - soft / 2, line / 2 + soft / 2, (second - nearest) / 2);
    }
    switch (measure) {
      case 'nearest':
        return Math.min(1, nearest);
      case 'second':
        return Math.min(1, second);
      case 'border':
        return Math.min(1, second - nearest);
      case 'flat':
        return id;
    }
  };
}
