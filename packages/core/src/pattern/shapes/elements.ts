/** How unlike the elements of a pattern are: its bricks, planks, cells, scales, fibres or motifs. All 0 to 1. */
export interface ElementVariation {
  /** How much darker an element may be. */
  tone: number;
  /** How much one side of an element may lie lower than the other. */
  tilt: number;
  /** How far elements are out of line: joints along their course, scales along their length, motifs in their cells. */
  offset: number;
}

export const NO_VARIATION: ElementVariation = { tone: 0, tilt: 0, offset: 0 };

/**
 * A random number 0 to below 1 of an element, the same every time: a hash whose steps are those of MurmurHash3's
 * finaliser (Appleby, public domain; from memory).
 * @param which of its numbers
 */
export function elementRandom(element: number, which: number, seed: number): number {
  let h = (Math.imul(element, 0x27d4eb2d) ^ Math.imul(which, 0x165667b1) ^ Math.imul(seed, 0x9e3779b1)) >>> 0;
  h = Math.imul(h ^ (h >>> 15), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return ((h ^ (h >>> 16)) >>> 0) / 4294967296;
}

const TONE = 0;
const TURN = 1;

/**
 * What an element's own value is multiplied by for its tone and its tilt, 0 to 1.
 * @param slope where on its slope a place lies, −1 to 1; `slopeOf` tells it for an element in the plane
 */
export function variedElement(
  element: number,
  seed: number,
  { tone, tilt }: ElementVariation,
  slope: () => number,
): number {
  const own = tone === 0 ? 1 : 1 - tone * elementRandom(element, TONE, seed);
  return tilt === 0 ? own : own * (1 - tilt * (0.5 + 0.5 * Math.max(-1, Math.min(1, slope()))));
}

/** Where a place lies on an element that slopes in a random direction. @param x, y from its middle, −1 to 1 at its sides */
export function slopeOf(element: number, seed: number, x: number, y: number): number {
  const turn = 2 * Math.PI * elementRandom(element, TURN, seed);
  return (x * Math.cos(turn) + y * Math.sin(turn)) * Math.SQRT1_2;
}
