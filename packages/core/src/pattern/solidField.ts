import { DEFAULT_LAYER, type FieldLayer } from './fieldLayer.ts';
import { cellsAt } from './noise/cellsAt.ts';
import { cellsOf, fractal, type PlaceValues } from './noise/noiseLayers.ts';
import type { NoiseStyle } from './noise/octave.ts';

/** Noises that can be asked at any place in space. */
export const SOLID_NOISES = ['gradient-noise', 'simplex-noise', 'cells', 'cracks'] as const;
export type SolidNoise = (typeof SOLID_NOISES)[number];

/** A noise in space, so that it runs through a body without seams whatever its UVs are (Peachey 1985; Perlin 1985). */
export interface SolidField {
  noise: SolidNoise;
  /** Width of its largest cells, in the unit of places. */
  size: number;
  octaves: number;
  style: NoiseStyle;
  /** Values that become 0 and 1. */
  levels: readonly [low: number, high: number];
  seed: number;
}

/**
 * Evaluates a noise at places in space.
 * @param step distance between samples there: what is finer fades to its mean, so that nothing shimmers
 * @param dimensions 4 for places on the flat torus of a repeating tile
 * @returns a function that tells a value 0 to 1 for each place
 * @example solidField({ ...field, size: 12 }, 0.5)(places, out)
 */
export function solidField(
  { noise, size, octaves, style, levels, seed }: SolidField,
  step: number,
  dimensions: 3 | 4 = 3,
): PlaceValues {
  const layer: FieldLayer = { ...DEFAULT_LAYER, kind: noise, scale: 1 / size, octaves, style, seed };
  const at =
    noise === 'cells' || noise === 'cracks'
      ? cellsAt(cellsOf(layer, dimensions, step))
      : fractal(layer, dimensions, step);
  const [low, high] = levels;
  const scale = 1 / (high - low || 1e-6);
  return (places, out) => {
    at(places, out);
    for (let i = 0; i < out.length; i++) out[i] = Math.max(0, Math.min(1, (out[i]! - low) * scale));
  };
}
