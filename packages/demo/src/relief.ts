import { strokeDistance, textWidth } from './lettering.ts';
import type { SectionName } from './profile.ts';

/** Where on the buoy a height is asked for: lengths in mm. */
export interface Place {
  section: SectionName;
  /** Angle about the axis, 0 to 2π. */
  angle: number;
  /** Distance from the axis. */
  radius: number;
  /** Length along the section's outline from its lower end, and its whole length. */
  along: number;
  length: number;
}

/** What stands on each half of the bell: no letter is cut by the seam between the two islands. */
const TEXTS = ['SALTMARSH', 'QUAY 7'] as const;
/** The bell's radius where the letters stand: one for all rows, so that they stay upright on its flare. */
const LETTER_RADIUS = 165;

/** How far the dense surface stands out from the light one, in mm: hoops, ribs, rivets, beads and letters. */
export function reliefHeight(place: Place): number {
  const { section, along, length } = place;
  switch (section) {
    case 'bottom':
      return bead(along - length + 30, 12, 4);
    case 'waist':
      return Math.max(
        ribs(place, 24, 11, 9),
        plate(along - 24, 20, 4) + rivets(place, 24, 72, 7, 5),
        plate(along - length + 24, 20, 4) + rivets(place, length - 24, 72, 7, 5),
      );
    case 'deck':
      return Math.max(
        ribs(place, 12, 6, 4),
        rivets(place, 28, 60, 6, 4.5),
        rivets(place, length - 26, 30, 6, 4.5),
        bead(along - length / 2, 9, 3),
      );
    case 'bell':
      return Math.max(
        bead(along - 96, 8, 4),
        bead(along - 116, 5, 2.5),
        letters(place, 186, 74),
        bead(along - length + 22, 7, 4),
      );
    case 'crown':
      return Math.max(bead(along - 30, 8, 4), rivets(place, 62, 16, 7, 5), bead(along - 120, 10, 5));
  }
}

/** Rises smoothly from 0 at `outer` to 1 at `inner`. */
function rise(distance: number, inner: number, outer: number): number {
  const share = Math.max(0, Math.min(1, (outer - distance) / (outer - inner)));
  return share * share * (3 - 2 * share);
}

/** A round band about the axis. */
function bead(offset: number, halfWidth: number, height: number): number {
  const share = offset / halfWidth;
  return Math.abs(share) < 1 ? height * Math.sqrt(1 - share * share) : 0;
}

/** A flat band about the axis with bevelled edges. */
const plate = (offset: number, halfWidth: number, height: number): number =>
  height * rise(Math.abs(offset), halfWidth - 3, halfWidth);

/** Length along the circle to the nearest of `count` places spread evenly. */
function toNearest({ angle, radius }: Place, count: number): number {
  const turn = (angle / (2 * Math.PI)) * count;
  return ((turn - Math.round(turn)) / count) * 2 * Math.PI * radius;
}

function ribs(place: Place, count: number, halfWidth: number, height: number): number {
  const ends = Math.min(place.along - 46, place.length - 46 - place.along);
  return height * rise(Math.abs(toNearest(place, count)), halfWidth - 6, halfWidth) * rise(-ends, 0, 8);
}

/** Round-headed rivets on a circle at `at` along the outline. */
function rivets(place: Place, at: number, count: number, radius: number, height: number): number {
  const share = Math.hypot(toNearest(place, count), place.along - at) / radius;
  return share < 1 ? height * Math.sqrt(1 - share * share) : 0;
}

/** The name on both halves of the bell, its base line at `at` along the outline; letters at most `size` mm high, 5 mm raised. */
function letters({ angle, along }: Place, at: number, size: number): number {
  const half = Math.PI * LETTER_RADIUS;
  const height = Math.min(size, (half * 0.92) / Math.max(...TEXTS.map(textWidth)));
  const text = TEXTS[angle < Math.PI ? 0 : 1];
  // Seen from outside, letters run with the angle; each text stands in the middle of its half.
  const x = (((angle % Math.PI) / Math.PI) * half - (half - textWidth(text) * height) / 2) / height;
  const distance = strokeDistance(text, x, (along - at) / height) * height;
  return 5 * rise(distance, height * 0.06, height * 0.11);
}
