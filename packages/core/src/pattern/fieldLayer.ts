import type { BlendMode } from '../image/blend.ts';
import type { NoiseStyle } from './octave.ts';
import type { RAMP_WAYS } from './shapes.ts';

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
  style: NoiseStyle;
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
