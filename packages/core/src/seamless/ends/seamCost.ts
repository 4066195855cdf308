/** A window of a picture, row by row. */
export interface Window {
  width: number;
  channels: number;
  values: Float32Array;
  /** 1 where there is something. */
  known: Uint8Array;
}

/** Slope up to which a place is as good as flat, in mean differences of neighbours. */
const FLAT = 0.05;
/** Costs are whole numbers; what is this much off shows as much as anything can. */
export const MOST_COST = 4095;

/**
 * How much a cut between two pictures would show at a texel: the more they differ there, and the less either changes by
 * itself, for an edge hides a cut and a flat place does not (Kwatra, Schödl, Essa, Turk and Bobick, "Graphcut Textures",
 * 2003, section 3).
 * @param difference of both, and `slope` of both together: sums over neighbours; means over channels
 * @returns a whole number for `minCut`
 */
export const texelCost = (difference: number, slope: number): number =>
  Math.min(MOST_COST, Math.round((difference * 128) / (FLAT + slope)));

/**
 * What a cut would cost at each texel of a window.
 * @returns the most where one of them is not known, so that no cut is drawn to where they end
 */
export function seamCost(one: Window, other: Window): Int32Array {
  const { channels, known } = one;
  const cost = new Int32Array(known.length).fill(MOST_COST);
  const slopes = [slopeOf(one), slopeOf(other)] as const;
  for (let at = 0; at < cost.length; at++) {
    if (known[at] === 0 || other.known[at] === 0) continue;
    let sum = 0;
    for (let c = at * channels; c < (at + 1) * channels; c++) sum += Math.abs(one.values[c]! - other.values[c]!);
    const slope = slopes[0][at]! + slopes[1][at]!;
    cost[at] = texelCost(sum / channels, slope);
  }
  return cost;
}

/** How much a picture changes from each texel to its neighbours. */
function slopeOf({ width, channels, values, known }: Window): Float32Array {
  const slope = new Float32Array(known.length);
  for (const step of [1, width]) {
    for (let at = 0; at + step < slope.length; at++) {
      if (known[at] === 0 || known[at + step] === 0) continue;
      let sum = 0;
      for (let c = 0; c < channels; c++) {
        sum += Math.abs(values[at * channels + c]! - values[(at + step) * channels + c]!);
      }
      slope[at]! += sum / channels;
      slope[at + step]! += sum / channels;
    }
  }
  return slope;
}
