import { smoothStep } from '../image/planes.ts';

/**
 * How much is seen of what lies over something else where the higher of both is: sand in the joints of stones.
 * @param below heights below, 0 to 1; raised to those that are seen afterwards
 * @param above heights of what lies over it
 * @param raise added to them: −1 hides all of it, 1 shows all
 * @param softness over how much difference in height both are seen
 * @returns shares 0 to 1 of what lies above
 * @example heightShares(stones, sand, -0.1, 0.05)
 */
export function heightShares(below: Float32Array, above: Float32Array, raise: number, softness: number): Float32Array {
  const shares = new Float32Array(below.length);
  for (let i = 0; i < shares.length; i++) {
    const height = above[i]! + raise;
    const share = smoothStep(-softness / 2, softness / 2, height - below[i]!);
    shares[i] = share;
    below[i]! += (height - below[i]!) * share;
  }
  return shares;
}
