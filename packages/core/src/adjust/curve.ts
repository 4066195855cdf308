import { onPieces, type CurvePiece } from '../image/pointOperations.ts';

/** A point of a tone curve, both 0 to 1. */
export type CurvePoint = readonly [from: number, to: number];

/**
 * The pieces of a curve through points that never swings beyond them: monotone cubics (Fritsch and Carlson, "Monotone
 * Piecewise Cubic Interpolation", 1980). Flat before the first and from the last point on.
 * @param points at least one, in any order
 */
export function curvePieces(points: readonly CurvePoint[]): CurvePiece[] {
  const sorted = points.toSorted((a, b) => a[0] - b[0]).filter((point, i, all) => i === 0 || point[0] > all[i - 1]![0]);
  const tangents = tangentsOf(sorted);
  return sorted.map(([x, y], i) => {
    const next = sorted[i + 1];
    if (!next) return { from: x, factors: [y, 0, 0, 0] };
    const h = next[0] - x;
    const s = (next[1] - y) / h;
    const [m, n] = [tangents[i]!, tangents[i + 1]!];
    return { from: x, factors: [y, m, (3 * s - 2 * m - n) / h, (m + n - 2 * s) / (h * h)] };
  });
}

function tangentsOf(sorted: readonly CurvePoint[]): number[] {
  const count = sorted.length;
  const slope = (i: number): number => (sorted[i + 1]![1] - sorted[i]![1]) / (sorted[i + 1]![0] - sorted[i]![0]);
  const tangents = sorted.map((_, i) => {
    if (count === 1) return 0;
    if (i === 0) return slope(0);
    if (i === count - 1) return slope(count - 2);
    const [before, behind] = [slope(i - 1), slope(i)];
    return before * behind <= 0 ? 0 : (before + behind) / 2;
  });
  for (let i = 0; i < count - 1; i++) {
    const s = slope(i);
    if (s === 0) {
      tangents[i] = tangents[i + 1] = 0;
      continue;
    }
    const length = Math.hypot(tangents[i]! / s, tangents[i + 1]! / s);
    if (length <= 3) continue;
    tangents[i]! *= 3 / length;
    tangents[i + 1]! *= 3 / length;
  }
  return tangents;
}

/** The curve of `curvePieces` as a function. */
export function toneCurve(points: readonly CurvePoint[]): (value: number) => number {
  const pieces = curvePieces(points);
  return (value) => onPieces(pieces, value);
}
