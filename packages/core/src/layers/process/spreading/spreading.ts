import { randomNumbers } from '../../../math/randomNumbers.ts';
import { triangleArea } from '../../../mesh/triangleArea.ts';
import { smoothStep } from '../../../image/planes.ts';
import { fieldAt, type BlockValues } from '../../inputs/fieldAt.ts';
import type { LayeredSurface, LayeredTile } from '../../surface/layeredSurface.ts';
import type { SpreadingMeasure } from '../../stack.ts';
import { TEXELS } from '../../surface/texelBlock.ts';
import type { SourcePlaces } from '../sources.ts';
import { leafAt, refinedMesh, type RefinedMesh } from './refinedMesh.ts';
import { distanceShares } from './surfaceDistance.ts';

/** How far from seeds each place of a surface is, made once for all its tiles. */
export interface Spread {
  mesh: RefinedMesh;
  /** Distance of each vertex as a share of what its seed reaches. */
  shares: Float32Array;
}

/** Edges are at most this share of what seeds reach. */
const FINENESS = 1 / 6;
/** Triangles that a surface is divided into at most, about. */
const MOST_TRIANGLES = 600_000;
/** Shares beyond this are told no more: roughness reaches no farther. */
const FARTHEST = 2;

/** Measures how far each place is from the seeds. */
export function spreadFrom(
  { reach, vary, seed }: SpreadingMeasure,
  seeds: SourcePlaces,
  surface: LayeredSurface,
): Spread {
  const { positions, indices } = surface.receiver;
  let area = 0;
  for (let t = 0; t < indices.length / 3; t++) area += triangleArea(positions, 3, indices, t);
  // An even triangle has an area of about half the square of its edges.
  const mesh = refinedMesh(surface, Math.max(reach * FINENESS, Math.sqrt((2 * area) / MOST_TRIANGLES)));
  const random = randomNumbers(seed ^ 0x3c6ef372);
  const reaches = Float32Array.from(seeds.triangles, () => reach * (1 - vary * random()));
  return { mesh, shares: distanceShares(mesh, seeds, reaches, FARTHEST) };
}

/** Spread outwards from seeds over the surface: 1 near them, to a rough edge where their reach ends. */
export function spreading(
  { softness, roughness, roughSize, seed }: SpreadingMeasure,
  { mesh, shares }: Spread,
  tile: LayeredTile,
): BlockValues {
  const rough =
    roughness > 0
      ? fieldAt({ noise: 'gradient-noise', size: roughSize, octaves: 6, style: 'smooth', levels: [0, 1], seed }, tile)
      : null;
  const field = new Float32Array(TEXELS);
  const weights = new Float64Array(3);
  return (block, out) => {
    rough?.(block, field);
    for (let i = 0; i < block.count; i++) {
      const leaf = leafAt(mesh, block.triangles[i]!, block.weights[i * 2]!, block.weights[i * 2 + 1]!, weights);
      let share = 0;
      for (let k = 0; k < 3; k++) share += weights[k]! * Math.min(FARTHEST, shares[mesh.corners[leaf * 3 + k]!]!);
      if (rough) share += (field[i]! * 2 - 1) * roughness;
      out[i] = 1 - smoothStep(1 - Math.max(0.001, softness), 1, share);
    }
  };
}
