/** A window of a picture, row by row. */
export interface Window {
  width: number;
  channels: number;
  values: Float32Array;
  /** 1 where there is something. */
  known: Uint8Array;
}

/** Where a texel and its four neighbours lie among those of a picture; itself for a neighbour that is not known. */
export interface Neighbours {
  at: number;
  left: number;
  right: number;
  above: number;
  below: number;
}

/** Slope up to which a place is as good as flat, in mean differences of neighbours. */
const FLAT = 0.05;
/** Costs are whole numbers; what is this much off shows as much as anything can. */
export const MOST_COST = 4095;

/**
 * How much a cut between two pictures would show at a texel: the more they differ there, and the less either changes by
 * itself, for an edge hides a cut and a flat place does not (Kwatra, Schödl, Essa, Turk and Bobick, "Graphcut Textures",
 * 2003, section 3).
 * @returns a whole number for `minCut`
 */
export function texelCost(
  one: Float32Array,
  here: Neighbours,
  other: Float32Array,
  there: Neighbours,
  channels: number,
): number {
  let [difference, slope] = [0, 0];
  for (let c = 0; c < channels; c++) {
    const [a, b] = [one[here.at * channels + c]!, other[there.at * channels + c]!];
    difference += Math.abs(a - b);
    slope +=
      Math.abs(a - one[here.left * channels + c]!) +
      Math.abs(a - one[here.right * channels + c]!) +
      Math.abs(a - one[here.above * channels + c]!) +
      Math.abs(a - one[here.below * channels + c]!) +
      Math.abs(b - other[there.left * channels + c]!) +
      Math.abs(b - other[there.right * channels + c]!) +
      Math.abs(b - other[there.above * channels + c]!) +
      Math.abs(b - other[there.below * channels + c]!);
  }
  return Math.min(MOST_COST, Math.round(((difference / channels) * 128) / (FLAT + slope / channels)));
}

export const noNeighbours = (): Neighbours => ({ at: 0, left: 0, right: 0, above: 0, below: 0 });

/**
 * What a cut would cost at each texel of a window.
 * @returns the most where one of them is not known, so that no cut is drawn to where they end
 */
export function seamCost(one: Window, other: Window): Int32Array {
  const { channels, width } = one;
  const cost = new Int32Array(one.known.length).fill(MOST_COST);
  const [here, there] = [noNeighbours(), noNeighbours()];
  for (let at = 0; at < cost.length; at++) {
    if (one.known[at] === 0 || other.known[at] === 0) continue;
    const x = at % width;
    neighboursOf(one, at, x, here);
    neighboursOf(other, at, x, there);
    cost[at] = texelCost(one.values, here, other.values, there, channels);
  }
  return cost;
}

function neighboursOf({ known, width }: Window, at: number, x: number, to: Neighbours): void {
  to.at = at;
  to.left = x > 0 && known[at - 1] === 1 ? at - 1 : at;
  to.right = x + 1 < width && known[at + 1] === 1 ? at + 1 : at;
  to.above = known[at - width] === 1 ? at - width : at;
  to.below = known[at + width] === 1 ? at + width : at;
}
