import { eachMeetingPair } from './hashedGrid.ts';
import { doubleUvArea, type Layout } from '../layout.ts';

/** Where triangles of a layout lie on each other. */
export interface Overlaps {
  /** Pairs of triangles; `complete` is false where there are more than could be looked at. */
  pairs: number;
  complete: boolean;
  /** 1 for each triangle that overlaps another. */
  flagged: Uint8Array;
  /** The islands that overlap (some thousands of them at most), with the pair's first place; an island may overlap itself. */
  islands: { a: number; b: number; pairs: number; triangle: number; place: readonly [u: number, v: number] }[];
}

/** Triangles may reach into each other by this share of a tile: exporters round that much. */
const TOLERANCE = 1e-6;
/** Pairs of islands that are told one by one. */
const MOST_TOLD = 4096;
/** Looks at pairs after which the search ends: no layout but one stacked thousands deep needs so many. */
const MOST_LOOKS = 400_000_000;

/**
 * Finds all pairs of triangles whose insides overlap, by the separating axis theorem in double precision. Triangles
 * are sorted into grids by their size, so that the search takes time in proportion to their number.
 * @param islands the island of each triangle
 * @param accepted whether two islands lie on each other on purpose
 * @param mostLooks pairs that are looked at before the search is given up
 */
export function findOverlaps(
  layout: Layout,
  islands: Uint32Array,
  accepted: (a: number, b: number) => boolean = () => false,
  mostLooks = MOST_LOOKS,
): Overlaps {
  const { uvs, indices } = layout;
  const triangles = indices.length / 3;
  const corners = new Float64Array(triangles * 6);
  const boxes = new Float64Array(triangles * 4);
  // Farther from the origin, single precision rounds by more; that is no matter of triangles elsewhere.
  const tolerances = new Float64Array(triangles).fill(TOLERANCE);
  for (let t = 0; t < triangles; t++) {
    const mirrored = doubleUvArea(layout, t) < 0;
    for (let c = 0; c < 3; c++) {
      // Counter-clockwise, so that the inside of each edge is to its left.
      const v = indices[t * 3 + (mirrored ? 2 - c : c)]! * 2;
      corners[t * 6 + c * 2] = uvs[v]!;
      corners[t * 6 + c * 2 + 1] = uvs[v + 1]!;
    }
    for (let k = 0; k < 2; k++) {
      const [a, b, c] = [corners[t * 6 + k]!, corners[t * 6 + 2 + k]!, corners[t * 6 + 4 + k]!];
      boxes[t * 4 + k] = Math.min(a, b, c);
      boxes[t * 4 + 2 + k] = Math.max(a, b, c);
      tolerances[t] = Math.max(tolerances[t]!, TOLERANCE * Math.max(Math.abs(a), Math.abs(b), Math.abs(c)));
    }
  }
  const found: Overlaps = { pairs: 0, complete: true, flagged: new Uint8Array(triangles), islands: [] };
  const byIslands = new Map<number, Overlaps['islands'][number]>();
  let looks = 0;
  // Thinner than the tolerance a triangle cannot overlap anything.
  found.complete = eachMeetingPair(boxes, TOLERANCE, (t, other) => {
    if (looks++ > mostLooks) return false;
    const tolerance = Math.max(tolerances[t]!, tolerances[other]!);
    if (!deeperThan(tolerance, corners, t * 6, other * 6)) return true;
    const [a, b] = [Math.min(islands[t]!, islands[other]!), Math.max(islands[t]!, islands[other]!)];
    if (accepted(a, b)) return true;
    found.pairs++;
    found.flagged[t] = 1;
    found.flagged[other] = 1;
    const key = a * 2 ** 26 + b;
    const known = byIslands.get(key);
    if (known) known.pairs++;
    else if (byIslands.size < MOST_TOLD)
      byIslands.set(key, { a, b, pairs: 1, triangle: t, place: middleOf(boxes, t, other) });
    return true;
  });
  found.islands = [...byIslands.values()].sort((x, y) => y.pairs - x.pairs);
  return found;
}

/** The middle of what two boxes share. */
function middleOf(boxes: Float64Array, a: number, b: number): readonly [number, number] {
  const middle = (k: number): number =>
    (Math.max(boxes[a * 4 + k]!, boxes[b * 4 + k]!) + Math.min(boxes[a * 4 + 2 + k]!, boxes[b * 4 + 2 + k]!)) / 2;
  return [middle(0), middle(1)];
}

/** Whether two triangles reach into each other by more than a length: no edge of either has all of the other outside. */
function deeperThan(tolerance: number, corners: Float64Array, a: number, b: number): boolean {
  return !hasEdgeBetween(tolerance, corners, a, b) && !hasEdgeBetween(tolerance, corners, b, a);
}

function hasEdgeBetween(tolerance: number, corners: Float64Array, of: number, other: number): boolean {
  for (let e = 0; e < 6; e += 2) {
    const x = corners[of + e]!;
    const y = corners[of + e + 1]!;
    const next = e === 4 ? 0 : e + 2;
    const dx = corners[of + next]! - x;
    const dy = corners[of + next + 1]! - y;
    const limit = tolerance * Math.sqrt(dx * dx + dy * dy);
    if (
      dx * (corners[other + 1]! - y) - dy * (corners[other]! - x) <= limit &&
      dx * (corners[other + 3]! - y) - dy * (corners[other + 2]! - x) <= limit &&
      dx * (corners[other + 5]! - y) - dy * (corners[other + 4]! - x) <= limit
    ) {
      return true;
    }
  }
  return false;
}
