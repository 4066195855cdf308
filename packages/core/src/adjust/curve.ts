/** A point of a tone curve, both 0 to 1. */
export type CurvePoint = readonly [from: number, to: number];

/**
 * A curve through points that never swings beyond them: monotone cubic pieces (Fritsch and Carlson, "Monotone Piecewise
 * Cubic Interpolation", 1980). Flat beyond the first and the last point.
 * @param points at least one, in any order
 */
export function toneCurve(points: readonly CurvePoint[]): (value: number) => number {
  const sorted = points.toSorted((a, b) => a[0] - b[0]).filter((point, i, all) => i === 0 || point[0] > all[i - 1]![0]);
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
  return (value) => {
    if (value <= sorted[0]![0]) return sorted[0]![1];
    if (value >= sorted[count - 1]![0]) return sorted[count - 1]![1];
    let i = 0;
    while (sorted[i + 1]![0] < value) i++;
    const [x0, y0] = sorted[i]!;
    const [x1, y1] = sorted[i + 1]!;
    const [h, t] = [x1 - x0, (value - x0) / (x1 - x0)];
    return (
      y0 * (1 + 2 * t) * (1 - t) ** 2 +
      h * tangents[i]! * t * (1 - t) ** 2 +
      y1 * t * t * (3 - 2 * t) +
      h * tangents[i + 1]! * t * t * (t - 1)
    );
  };
}
