import type { NormalSpace } from '../image/convention.ts';
import type { BakedKind } from '../image/mapKinds.ts';
import type { Size } from '../math/size.ts';

/** How far rays reach from the receiver's surface, in mesh units: they start `out` and end `in`. */
export interface Reach {
  out: number;
  in: number;
}

/** What becomes of rays that meet a surface from behind: they go on, hit it, or hit it as if it were turned over. */
export type BackFaceRule = 'ignore' | 'accept' | 'flip';

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

/** The part of the sky that counts. */
export interface SkyCone {
  up: readonly [number, number, number];
  angle: number;
}

/** The whole sky above a mesh whose y is up. */
export const OPEN_SKY: SkyCone = { up: [0, 1, 0], angle: 90 };

/** The way of the sun over a place on earth. */
export interface SunPath {
  up: readonly [number, number, number];
  north: readonly [number, number, number];
  /** In degrees, −90 to 90; below 0 in the south. */
  latitude: number;
  season: SunSeason;
}

/** The part of the year over which the sun is followed. */
export const SUN_SEASONS = ['year', 'summer', 'winter'] as const;
export type SunSeason = (typeof SUN_SEASONS)[number];

/** A whole year at 50° north, above a mesh whose y is up and whose z is towards the south. */
export const USUAL_SUN: SunPath = { up: [0, 1, 0], north: [0, 0, -1], latitude: 50, season: 'year' };

/** Settings of one bake, all decided: nothing is measured or guessed any more. */
export interface BakeSettings {
  maps: readonly BakedKind[];
  size: Size;
  /** The farthest that any ray reaches. */
  reach: Reach;
  /**
   * Rays along the receiver's directions; or without any ray the nearest place of the source, or the same place of the
   * triangle that both share.
   */
  aim: 'rays' | 'nearest' | 'shared';
  /** Sample points per texel along each axis, 1 to 8. */
  samplesPerAxis: number;
  normal: NormalSpace;
  backFaces: BackFaceRule;
  occlusion: OcclusionSettings;
  /** Unit direction along which a gradient map grows. */
  gradient: readonly [number, number, number];
  /** Of a sky map: the unit direction that is up, and half the angle of the cone about it, 1 to 90 degrees. */
  sky: SkyCone;
  /** Of a sun map: where the sun goes. */
  sun: SunPath;
  /** Whether each texel is also looked at for what may be wrong with it. */
  prove: boolean;
  /** Turns the random parts of the bake: another number, other noise. */
  seed: number;
}
