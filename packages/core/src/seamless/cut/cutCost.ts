import { quickLinearToSrgb } from '../../color/srgb.ts';
import type { Image } from '../../image/image.ts';

/** What it costs to cut between neighbouring cells of a window, row by row: whole numbers of 0 or more. */
export interface CutCost {
  /** Between a cell and the one to its right. */
  right: Int32Array;
  /** Between a cell and the one below it. */
  below: Int32Array;
}

export const noCost = (cells: number): CutCost => ({ right: new Int32Array(cells), below: new Int32Array(cells) });

/** Slope up to which a place is as good as flat, in differences of neighbours. */
const FLAT = 0.04;
/** Costs are whole numbers; what is this much off shows as much as anything can. */
export const MOST_COST = 4095;

/**
 * How much a cut between two neighbouring texels would show: the more, the more the two pictures differ at either, and
 * the less both change from one texel to the other, for a cut that runs along an edge is hidden by it (Kwatra, Schödl,
 * Essa, Turk and Bobick, "Graphcut Textures", 2003, section 3). The smaller change counts: along an edge that only one
 * picture has, the other is cut through. Colours are compared as the eye takes them, through the sRGB curve.
 * @param a, b where both texels begin in the data of the one picture
 * @param p, q where they begin in that of the other
 * @returns 0 to `MOST_COST`
 */
export function costBetween(one: Image, a: number, b: number, other: Image, p: number, q: number): number {
  const { channels } = one;
  const isColor = one.colorSpace === 'srgb';
  let [difference, slope] = [0, 0];
  for (let c = 0; c < channels; c++) {
    let [oneA, oneB, otherP, otherQ] = [one.data[a + c]!, one.data[b + c]!, other.data[p + c]!, other.data[q + c]!];
    if (isColor) {
      oneA = quickLinearToSrgb(oneA);
      oneB = quickLinearToSrgb(oneB);
      otherP = quickLinearToSrgb(otherP);
      otherQ = quickLinearToSrgb(otherQ);
    }
    difference += Math.abs(oneA - otherP) + Math.abs(oneB - otherQ);
    slope += Math.min(Math.abs(oneA - oneB), Math.abs(otherP - otherQ));
  }
  return Math.min(MOST_COST, Math.round(((difference / channels) * 32) / (FLAT + slope / channels)));
}

/** A picture of colours as the eye takes them, from now on plain data; data as it is. */
export function asSeen({ colorSpace, ...image }: Image): Image {
  return colorSpace === 'srgb' ? { ...image, data: image.data.map(quickLinearToSrgb) } : image;
}
