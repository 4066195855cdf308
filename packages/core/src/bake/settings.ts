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

/** Settings of one bake, all decided: nothing is measured or guessed any more. */
export interface BakeSettings {
  size: Size;
  reach: Reach;
  /** Sample points per texel along each axis, 1 to 8. */
  samplesPerAxis: number;
  normal: NormalSpace;
  backFaces: BackFaces;
}
