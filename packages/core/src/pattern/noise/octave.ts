import type { Dimensions } from './lattice.ts';

export const NOISE_STYLES = ['smooth', 'ridged', 'billowed'] as const;
export type NoiseStyle = (typeof NOISE_STYLES)[number];

/** One of the noises that are added up. */
export interface Octave {
  /** Cells across the tile. */
  cells: number;
  weight: number;
  /** How much of it is seen, 0 to 1; the rest of it is its mean. */
  shown: number;
  /** Of `permutation`. */
  table: Uint8Array;
}

/** Octaves as they are added up: with their means, and without those that are not seen. */
export interface OctaveSum {
  kind: 'simplex-noise' | 'gradient-noise';
  dimensions: Dimensions;
  style: NoiseStyle;
  octaves: readonly (Octave & { mean: number })[];
  /** What those add that are not seen. */
  hidden: number;
  scale: number;
}
