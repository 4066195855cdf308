import { weldPositions } from './weld.ts';

/** The corner behind another in its triangle: a half-edge goes from corner i to it. */
export const nextCorner = (i: number): number => (i % 3 === 2 ? i - 2 : i + 1);

/** The distance of two vertices. */
export const edgeLength = (positions: Float32Array, a: number, b: number): number =>
  Math.hypot(
    positions[b * 3]! - positions[a * 3]!,
    positions[b * 3 + 1]! - positions[a * 3 + 1]!,
    positions[b * 3 + 2]! - positions[a * 3 + 2]!,
  );

/**
 * Visits each edge that two triangles share in space, however their vertices are split.
 * @param visit told the corner where the edge begins in one triangle, and where it begins (at the other end) in the
 * other
 */
export function eachSharedEdge(
  positions: Float32Array,
  indices: Uint32Array,
  visit: (here: number, there: number) => void,
): void {
  const welded = weldPositions(positions);
  const seen = new Map<number, number>();
  for (let i = 0; i < indices.length; i++) {
    const a = welded[indices[i]!]!;
    const b = welded[indices[nextCorner(i)]!]!;
    const other = seen.get(b * 2 ** 26 + a);
    if (other === undefined) seen.set(a * 2 ** 26 + b, i);
    else visit(other, i);
  }
}
