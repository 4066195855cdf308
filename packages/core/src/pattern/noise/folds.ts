import { smoothStep } from '../../image/planes.ts';
import { randomNumbers } from '../../math/randomNumbers.ts';
import type { Pattern } from '../batch.ts';
import type { FieldLayer } from '../fieldLayer.ts';
import type { Dimensions } from './lattice.ts';
import { FINEST, smoothNoise, type PlaceValues } from './noiseLayers.ts';

/** A train of folds: waves across the tile and down it, whole ones so that it repeats. */
interface Train {
  across: number;
  down: number;
  phase: number;
  /** How much each of two slow noises bends it. */
  bends: readonly [number, number];
  weight: number;
  shown: number;
}

/** Mean of a fold over its width: a parabola from 0 over 1 to 0. */
const MEAN = 2 / 3;
/** Trains of each octave, where they may run different ways. */
const TRAINS = 3;

/**
 * Folds of cloth: rounded crests with sharp creases between, in trains that a slow noise bends (waves disturbed by noise,
 * Perlin, "An Image Synthesizer", 1985). Inverted they are the ridges of crumpled paper.
 * @param step distance between samples, in the unit of places @param aspect height over width of the tile
 */
export function folds(layer: FieldLayer, dimensions: Dimensions, step: number, aspect: number): Pattern {
  const { scale, seed } = layer;
  const trains = trainsOf(layer, step, aspect);
  const total = trains.reduce((sum, { weight }) => sum + weight, 0);
  const [one, other] = [17, 18].map((own) => smoothNoise(dimensions, Math.max(1, scale / 3), seed + own)) as [
    PlaceValues,
    PlaceValues,
  ];
  let bends = [new Float32Array(0), new Float32Array(0)] as const;
  return {
    value({ u, v, places }, out) {
      if (bends[0].length !== out.length) bends = [new Float32Array(out.length), new Float32Array(out.length)];
      one(places, bends[0]);
      other(places, bends[1]);
      for (let i = 0; i < out.length; i++) {
        const [a, b] = [bends[0][i]! * 2 - 1, bends[1][i]! * 2 - 1];
        let sum = 0;
        for (const train of trains) {
          const t = train.across * u[i]! + train.down * v[i]! + train.phase + a * train.bends[0] + b * train.bends[1];
          const side = 2 * (t - Math.floor(t)) - 1;
          sum += train.weight * (MEAN + (1 - side * side - MEAN) * train.shown);
        }
        out[i] = sum / total;
      }
    },
  };
}

function trainsOf(
  { scale, seed, octaves, lacunarity, gain, direction, spread }: FieldLayer,
  step: number,
  aspect: number,
): Train[] {
  const random = randomNumbers(seed);
  const many = spread === 0 ? 1 : TRAINS;
  return Array.from({ length: octaves }, (_, k) => k).flatMap((k) =>
    Array.from({ length: many }, (): Train => {
      const waves = scale * lacunarity ** k;
      // Creases run along the direction, waves across it.
      const turn = ((direction + 90) * Math.PI) / 180 + (random() - 0.5) * spread * Math.PI;
      const [across, down] = [Math.round(waves * Math.cos(turn)), -Math.round(waves * Math.sin(turn) * aspect)];
      return {
        ...(across === 0 && down === 0 ? { across: 1, down: 0 } : { across, down }),
        phase: random(),
        bends: [many === 1 ? 1 : 3 * (random() - 0.5), many === 1 ? 0 : 3 * (random() - 0.5)],
        weight: gain ** k,
        shown: smoothStep(FINEST, 2 * FINEST, 1 / waves / step),
      };
    }),
  );
}
