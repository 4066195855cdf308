import { kernelTeam } from '../../kernel/kernelTeam.ts';
import type { Places } from '../domain.ts';
import { gradientNoise } from './gradientNoise.ts';
import type { Dimensions, Noise } from './lattice.ts';
import type { NoiseStyle, Octave, OctaveSum } from './octave.ts';
import { octavesInKernel } from './octavesInKernel.ts';
import { simplexNoise } from './simplexNoise.ts';

/**
 * Octaves of a noise, added up, at a list of places. In the kernel in single precision but for where the lattice lies:
 * off by less than 1e-5.
 * @param scale what the sum is multiplied by
 * @returns a function that tells a value for each place
 */
export function octavesOf(
  kind: OctaveSum['kind'],
  dimensions: Dimensions,
  style: NoiseStyle,
  all: readonly Octave[],
  scale: number,
): (places: Places, out: Float32Array) => void {
  const noiseOf = kind === 'simplex-noise' ? simplexNoise : gradientNoise;
  const parts = all.map((octave) => {
    const noise = styled(noiseOf(octave.table, dimensions), style);
    return { ...octave, noise, mean: meanOf(noise) };
  });
  const octaves = parts.filter(({ shown }) => shown > 0);
  const hidden = parts.reduce((sum, { shown, weight, mean }) => sum + (shown === 0 ? weight * mean : 0), 0);
  return (places, out) => {
    const team = kernelTeam();
    if (team) {
      octavesInKernel(team, { kind, dimensions, style, octaves, hidden, scale }, places, out);
      return;
    }
    const [x, y, z, w] = places;
    for (let i = 0; i < out.length; i++) {
      let sum = hidden;
      for (const { cells, weight, shown, mean, noise } of octaves) {
        const value = noise(x[i]! * cells, y[i]! * cells, z[i]! * cells, w[i]! * cells);
        sum += weight * (mean + (value - mean) * shown);
      }
      out[i] = sum * scale;
    }
  };
}

/** A noise of −1 to 1 as 0 to 1. */
function styled(noise: Noise, style: NoiseStyle): Noise {
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
