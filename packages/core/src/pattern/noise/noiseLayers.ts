import { smoothStep } from '../../image/planes.ts';
import { inSpace, type Pattern } from '../batch.ts';
import { cellElements } from './cellElements.ts';
import { cellsAt } from './cellsAt.ts';
import type { Cells } from './cellularNoise.ts';
import type { Places } from '../domain.ts';
import type { FieldLayer } from '../fieldLayer.ts';
import { permutationOf, type Dimensions } from './lattice.ts';
import type { Octave } from './octave.ts';
import { octavesOf } from './octaves.ts';

/** Tells a value 0 to 1 for each of a list of places. */
export type PlaceValues = (places: Places, out: Float32Array) => void;

/** Noises finer than this many samples to a cell are gone; up to twice as many they fade. */
export const FINEST = 2;

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

/** One gradient noise, from 0 to 1, by which other patterns are bent or moved. */
export const smoothNoise = (dimensions: Dimensions, cells: number, seed: number): PlaceValues =>
  octavesOf('gradient-noise', dimensions, 'smooth', [{ cells, weight: 1, shown: 1, table: permutationOf(seed) }], 1);

/** The cells of a layer of cells or cracks. @param step distance between samples, in the unit of places */
export function cellsOf(
  { scale, seed, jitter, measure, line, bevel, kind }: FieldLayer,
  dimensions: Dimensions,
  step: number,
): Cells {
  const soft = Math.max(bevel, step * scale);
  return {
    ...{ dimensions, table: permutationOf(seed), cells: scale, jitter },
    ...{ measure: kind === 'cracks' ? kind : measure, edge: [line / 2 - soft / 2, line / 2 + soft / 2] },
  };
}

/** Cells and cracks. Where all elements are alike, the kernel finds them. */
export function cellular(layer: FieldLayer, dimensions: Dimensions, step: number): Required<Pattern> {
  const { elements, seed } = layer;
  const cells = cellsOf(layer, dimensions, step);
  const varied = cellElements(cells, elements, seed);
  return elements.tone === 0 && elements.tilt === 0 ? { ...varied, ...inSpace(cellsAt(cells)) } : varied;
}
