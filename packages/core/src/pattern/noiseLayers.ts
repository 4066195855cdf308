import { smoothStep } from '../image/planes.ts';
import { cellsAt } from './cellsAt.ts';
import type { Places } from './domain.ts';
import type { FieldLayer } from './fieldLayer.ts';
import { permutationOf, type Dimensions } from './lattice.ts';
import type { Octave } from './octave.ts';
import { octavesOf } from './octaves.ts';

/** Tells a value 0 to 1 for each of a list of places. */
export type PlaceValues = (places: Places, out: Float32Array) => void;

/** Noises finer than this many samples to a cell are gone; up to twice as many they fade. */
const FINEST = 2;

/**
 * Sums of ever finer noises (Perlin 1985; the ridged and billowed kinds after Musgrave 1994).
 * @param step distance between samples, in the unit of places
 */
export function fractal(
  { kind, scale, seed, octaves, lacunarity, gain, style }: FieldLayer,
  dimensions: Dimensions,
  step: number,
): PlaceValues {
  const parts = Array.from({ length: octaves }, (_, k): Octave => {
    const cells = scale * lacunarity ** k;
    const shown = smoothStep(FINEST, 2 * FINEST, 1 / cells / step);
    return { cells, weight: gain ** k, shown, table: permutationOf(seed + k * 101) };
  });
  const total = parts.reduce((sum, { weight }) => sum + weight, 0);
  return octavesOf(kind === 'simplex-noise' ? kind : 'gradient-noise', dimensions, style, parts, 1 / total);
}

/** Cells and cracks. @param step distance between samples, in the unit of places */
export function cellular(
  { scale, seed, jitter, measure, line, bevel, kind }: FieldLayer,
  dimensions: Dimensions,
  step: number,
): PlaceValues {
  const soft = Math.max(bevel, step * scale);
  return cellsAt({
    ...{ dimensions, table: permutationOf(seed), cells: scale, jitter },
    ...{ measure: kind === 'cracks' ? kind : measure, edge: [line / 2 - soft / 2, line / 2 + soft / 2] },
  });
}
