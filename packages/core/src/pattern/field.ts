import type { Size } from '../math/size.ts';
import { colorRamp, type ColorStop } from '../color/ramp.ts';
import { blended } from '../image/blend.ts';
import type { Image } from '../image/image.ts';
import { smoothStep } from '../image/planes.ts';
import type { FieldLayer } from './fieldLayer.ts';
import { cellular, fractal } from './noiseLayers.ts';
import { domainOf, placesFor, type FieldWrap, type Places } from './domain.ts';
import { permutationOf } from './lattice.ts';
import { octavesOf } from './octaves.ts';
import { bricks, dots, grid, ramp, scales, weave } from './shapes.ts';

export interface FieldOptions {
  layers: readonly FieldLayer[];
  wrap: FieldWrap;
  /** Samples along each side of a texel. */
  samples: number;
}

/** Places of the tile, 0 to 1, v downwards, and the same places in the domain of the field. */
interface Batch {
  u: Float64Array;
  v: Float64Array;
  places: Places;
}

/** Tells a value 0 to 1 for each place. */
type Evaluate = (batch: Batch, out: Float32Array) => void;

/**
 * Rows of a procedural field, 0 to 1. Noises finer than the samples fade to their mean and patterns are softened over
 * the distance of samples, so that a field neither shimmers nor changes its tone with its size.
 * @param out as many values as the rows have texels
 */
export function fieldRows(options: FieldOptions, size: Size, from: number, to: number, out: Float32Array): void {
  const { layers, samples, wrap } = options;
  const { width, height } = size;
  const step = 1 / (width * samples);
  const aspect = height / width;
  const evaluate = layers.map((layer) => ({ layer, at: layerValue(layer, wrap, step, aspect) }));
  const domain = domainOf(wrap, aspect);
  // One sample of each texel of a row at a time.
  const columns = Array.from({ length: samples }, (_, s) => {
    const u = Float64Array.from({ length: width }, (_, x) => (x + (s + 0.5) / samples) / width);
    return { u, placesOfRow: domain.rows(u) };
  });
  const v = new Float64Array(width);
  const places = placesFor(width);
  const [value, above] = [new Float32Array(width), new Float32Array(width)];
  const share = 1 / (samples * samples);
  out.fill(0);
  for (let y = from; y < to; y++) {
    const row = (y - from) * width;
    for (let s = 0; s < samples; s++) {
      v.fill((y + (s + 0.5) / samples) / height);
      for (const { u, placesOfRow } of columns) {
        placesOfRow(v[0]!, places);
        value.fill(0);
        for (const { layer, at } of evaluate) {
          at({ u, v, places }, above);
          lay(layer, above, value);
        }
        if (samples === 1) out.set(value, row);
        else for (let x = 0; x < width; x++) out[row + x]! += value[x]! * share;
      }
    }
  }
}

function lay({ blend, opacity }: FieldLayer, above: Float32Array, value: Float32Array): void {
  if (blend === 'normal' && opacity === 1) {
    value.set(above);
    return;
  }
  for (let i = 0; i < value.length; i++) {
    const below = value[i]!;
    value[i] = below + (blended(blend, below, above[i]!) - below) * opacity;
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
  const isPlain = low === 0 && high === 1 && !threshold && !invert;
  return (batch, out) => {
    value(batch, out);
    if (isPlain) {
      for (let i = 0; i < out.length; i++) out[i] = Math.max(0, Math.min(1, out[i]!));
      return;
    }
    for (let i = 0; i < out.length; i++) {
      let result = Math.max(0, Math.min(1, (out[i]! - low) / span));
      if (threshold) result = smoothStep(threshold.at - threshold.soft / 2, threshold.at + threshold.soft / 2, result);
      out[i] = invert ? 1 - result : result;
    }
  };
}

function warped({ warp }: FieldLayer, wrap: FieldWrap, aspect: number, value: Evaluate): Evaluate {
  if (warp.amount === 0) return value;
  const domain = domainOf(wrap, aspect);
  const { amount, scale, seed } = warp;
  const noise = (own: number): Evaluate => {
    const octave = { cells: scale, weight: 1, shown: 1, table: permutationOf(own) };
    const sum = octavesOf('gradient-noise', domain.dimensions, 'smooth', [octave], 1);
    return ({ places }, out) => sum(places, out);
  };
  const [across, up] = [noise(seed), noise(seed + 1)];
  let moved: Batch | null = null;
  let [right, down] = [new Float32Array(0), new Float32Array(0)];
  return (batch, out) => {
    const count = out.length;
    if (moved?.u.length !== count) {
      moved = { u: new Float64Array(count), v: new Float64Array(count), places: placesFor(count) };
      [right, down] = [new Float32Array(count), new Float32Array(count)];
    }
    across(batch, right);
    up(batch, down);
    for (let i = 0; i < count; i++) {
      // From 0 to 1, as styles have it, back to −1 to 1.
      moved.u[i] = batch.u[i]! + (right[i]! * 2 - 1) * amount;
      moved.v[i] = batch.v[i]! + ((down[i]! * 2 - 1) * amount) / aspect;
      domain.place(moved.u[i]!, moved.v[i]!, moved.places, i);
    }
    value(moved, out);
  };
}

/** Patterns whose rows take turns repeat only with an even number of them. */
const even = (count: number): number => 2 * Math.ceil(count / 2);

function kindValue(layer: FieldLayer, wrap: FieldWrap, step: number, aspect: number): Evaluate {
  const { columns, rows, line, thickness, bevel, variety, seed, shift, over } = layer;
  switch (layer.kind) {
    case 'gradient-noise':
    case 'simplex-noise':
      return inSpace(fractal(layer, domainOf(wrap, aspect).dimensions, step));
    case 'cells':
    case 'cracks':
      return inSpace(cellular(layer, domainOf(wrap, aspect).dimensions, step));
    case 'bricks': {
      const options = { columns, rows: shift === 0 ? rows : even(rows), shift, gap: line, bevel, variety, seed };
      return ofTile((u, v) => bricks(u, v, step, aspect, options));
    }
    case 'scales':
      return ofTile((u, v) => scales(u, v, step, columns, even(rows)));
    case 'weave': {
      const period = 2 * over;
      const whole = (count: number): number => period * Math.max(1, Math.round(count / period));
      const options = { columns: whole(columns), rows: whole(rows), thickness, over };
      return ofTile((u, v) => weave(u, v, step, options));
    }
    case 'dots': {
      const staggered = shift !== 0;
      const options = { columns, rows: staggered ? even(rows) : rows, size: thickness, staggered, soft: bevel };
      return ofTile((u, v) => dots(u, v, step, aspect, options));
    }
    case 'grid':
      return ofTile((u, v) => grid(u, v, step, { columns, rows, line, soft: bevel }));
    case 'gradient':
      return ofTile((u, v) => ramp(u, v, aspect, layer.way, layer.times));
  }
}

/** A pattern that is asked at places of the tile. */
const ofTile =
  (pattern: (u: number, v: number) => number): Evaluate =>
  ({ u, v }, out) => {
    for (let i = 0; i < out.length; i++) out[i] = pattern(inTile(u[i]!), inTile(v[i]!));
  };

const inTile = (value: number): number => value - Math.floor(value);

/** A noise that is asked at places of the domain. */
const inSpace =
  (at: (places: Places, out: Float32Array) => void): Evaluate =>
  ({ places }, out) =>
    at(places, out);
