import type { Image } from '../image/image.ts';
import { repetitionOf, type Repetition } from './repetition.ts';
import { seamVisibility, type SeamVisibility } from './seamVisibility.ts';

/** How good a tile is that repeats. */
export interface TileProof {
  /** How much it shows where it was joined; null where there is too little to compare it with. */
  seams: SeamVisibility | null;
  repetition: Repetition;
  /** How alike the picture that it was made of is to itself; null where there is none. */
  usual: Pick<Repetition, 'likeness' | 'mirrored'> | null;
}

/** Seams are seen from this visibility on. */
export const SEEN_FROM = 0.5;
/** A tile may be so much like itself moved, or mirrored, before it shows; or more, as far as its picture is. */
export const MOST_LIKENESS = 0.35;
export const MOST_MIRRORED = 0.6;
/** So much more than its picture shows. */
const MORE = 0.15;

/** What a likeness is warned of above: what is allowed anywhere, or what the picture has by itself and a little more. */
export const warnsAbove = (most: number, usual = 0): number => Math.min(0.98, Math.max(most, usual + MORE));

/**
 * Proves a tile: its seams, and how much it shows that it repeats, beside what its picture shows by itself.
 * @param picture what it was made of, at its scale; null where there is none
 * @param check throws to stop
 */
export function proveTile(tile: Image, picture: Image | null, check?: () => void): TileProof {
  const repetition = repetitionOf(tile);
  check?.();
  const known = picture && repetitionOf(picture);
  check?.();
  return {
    seams: seamVisibility(tile, picture ?? tile, check),
    repetition,
    usual: known && { likeness: known.likeness, mirrored: known.mirrored },
  };
}
