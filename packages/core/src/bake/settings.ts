import type { BakedKind } from '../image/image.ts';
import type { BackFaces } from '../trace/rays.ts';
import type { Size } from './blocks.ts';

/** How far rays reach from the receiver's surface, in mesh units: they start `out` and end `in`. */
export interface Reach {
  out: number;
  in: number;
}

/**
 * `tangent` follows the receiver's MikkTSpace frame with the green channel up or down the picture; `object`
 * keeps the axes of the mesh.
 */
export interface NormalSpace {
  space: 'tangent' | 'object';
  y: 'up' | 'down';
}

/** Rays that each sample sends out from the place it has met, for occlusion, bent normals and thickness. */
export interface OcclusionSettings {
  /** Rays for each sample, 1 to 4096. */
  rays: number;
  /** Cosine-weighted about the normal, or evenly over the hemisphere. */
  spread: 'cosine' | 'uniform';
  /** How far they look, in mesh units; Infinity for as far as there is anything. */
  distance: number;
  /** What lies farther counts less, down to nothing at the distance. */
  fallOff: boolean;
  /** Whether surfaces seen from behind block as well. */
  twoSided: boolean;
}

/** Settings of one bake, all decided: nothing is measured or guessed any more. */
export interface BakeSettings {
  maps: readonly BakedKind[];
  size: Size;
  reach: Reach;
  /** Sample points per texel along each axis, 1 to 8. */
  samplesPerAxis: number;
  normal: NormalSpace;
  backFaces: BackFaces;
  occlusion: OcclusionSettings;
  /** Turns the random parts of the bake: another number, other noise. */
  seed: number;
}
