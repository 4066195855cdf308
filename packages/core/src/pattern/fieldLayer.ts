import type { BlendMode } from '../image/blend.ts';
import type { NoiseStyle } from './noise/octave.ts';
import { NO_VARIATION, type ElementVariation } from './shapes/elements.ts';
import type { RAMP_WAYS } from './shapes/ramp.ts';

export const FIELD_KINDS = [
  'gradient-noise',
  'simplex-noise',
  'cells',
  'cracks',
  'folds',
  'grunge',
  'scratches',
  'fibres',
  'bricks',
  'planks',
  'scales',
  'weave',
  'dots',
  'grid',
  'gradient',
  'picture',
] as const;
export type FieldKind = (typeof FIELD_KINDS)[number];

const ELEMENT_KINDS: readonly FieldKind[] = [
  ...(['cells', 'cracks', 'scratches', 'fibres', 'bricks', 'planks', 'scales', 'picture'] as const),
];

/** Kinds of dirt and wear. */
export const GRUNGE_KINDS = ['stains', 'specks', 'streaks', 'worn', 'smudges'] as const;
export type GrungeKind = (typeof GRUNGE_KINDS)[number];

/** Whether a kind is made of elements, each of which has a number. Of grunge, only specks are. */
export const hasElements = ({ kind, grunge }: Pick<FieldLayer, 'kind' | 'grunge'>): boolean =>
  ELEMENT_KINDS.includes(kind) || (kind === 'grunge' && grunge === 'specks');

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
  /** Dots, threads and motifs, as a share of a cell. */
  thickness: number;
  /** Slopes of edges, as a share. */
  bevel: number;
  elements: ElementVariation;
  /** Of scratches and fibres: how many there are, and their length and width in tile widths. */
  count: number;
  length: number;
  width: number;
  /** 0 is straight, 1 turns by up to a whole turn. */
  curl: number;
  /** In degrees, counter-clockwise from the right: of strokes and folds, and by how much motifs are turned. */
  direction: number;
  /** 0 is all one way, 1 any way. */
  spread: number;
  grunge: GrungeKind;
  /** How much grunge covers, 0 to 1. */
  cover: number;
  /** Which of the pictures is the motif. */
  picture: number;
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
  elements: NO_VARIATION,
  count: 400,
  length: 0.25,
  width: 0.002,
  curl: 0.1,
  direction: 0,
  spread: 0.3,
  grunge: 'stains',
  cover: 0.5,
  picture: 0,
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
