import type { Size } from '../../math/size.ts';
import { nextCorner } from '../../mesh/edges.ts';
import { eachMeetingPair } from './hashedGrid.ts';
import { borderCorners } from '../borders.ts';
import type { Layout } from '../layout.ts';

/** Two islands, or an island and the edge of its tile, that lie closer than they should. */
export interface NarrowGap {
  a: number;
  /** The other island; null for the edge of the tile. */
  b: number | null;
  /** Texels between them. */
  gap: number;
  place: readonly [u: number, v: number];
}

/**
 * Finds islands with less than a distance between them, or between them and the edge of their tile, measured from
 * border to border and exact. Each pair is told once, at its narrowest place.
 * @param islands the island of each triangle
 * @param limit texels
 */
export function findNarrowGaps(layout: Layout, islands: Uint32Array, size: Size, limit: number): NarrowGap[] {
  const pieces = borderPieces(layout, islands, size, limit);
  const count = pieces.islands.length;
  const boxes = new Float64Array(count * 4);
  for (let i = 0; i < count; i++) {
    for (let k = 0; k < 2; k++) {
      boxes[i * 4 + k] = Math.min(pieces.ends[i * 4 + k]!, pieces.ends[i * 4 + 2 + k]!) - limit / 2;
      boxes[i * 4 + 2 + k] = Math.max(pieces.ends[i * 4 + k]!, pieces.ends[i * 4 + 2 + k]!) + limit / 2;
    }
  }
  const narrowest = new Map<number, NarrowGap>();
  const tell = (a: number, b: number | null, gap: number, x: number, y: number): void => {
    const key = a * 2 ** 26 + (b ?? 2 ** 26 - 1);
    const known = narrowest.get(key);
    if (!known || gap < known.gap) narrowest.set(key, { a, b, gap, place: [x / size.width, y / size.height] });
  };
  eachMeetingPair(boxes, 0, (one, other) => {
    const [a, b] = [pieces.islands[one]!, pieces.islands[other]!];
    if (a === b) return true;
    const gap = segmentDistance(pieces.ends, one * 4, other * 4);
    if (gap >= limit - SLACK) return true;
    // Told at the border of the island with the lower number.
    const at = (a < b ? one : other) * 4;
    tell(Math.min(a, b), Math.max(a, b), gap, pieces.ends[at]!, pieces.ends[at + 1]!);
    return true;
  });
  edgesOfTiles(pieces, size, limit, tell);
  return [...narrowest.values()].sort((x, y) => x.gap - y.gap);
}

/** What single precision may round a distance of texels by. */
const SLACK = 2e-3;

interface BorderPieces {
  /** x, y of both ends in texels, y upwards. */
  ends: Float64Array;
  islands: Uint32Array;
}

/** The borders of all islands in pieces that are not much longer than the limit. */
function borderPieces({ uvs, indices }: Layout, islands: Uint32Array, size: Size, limit: number): BorderPieces {
  const longest = Math.max(1, limit * 4);
  const ends: number[] = [];
  const owners: number[] = [];
  for (const i of borderCorners({ uvs, indices }, islands)) {
    const a = indices[i]! * 2;
    const b = indices[nextCorner(i)]! * 2;
    const [x, y] = [uvs[a]! * size.width, uvs[a + 1]! * size.height];
    const [dx, dy] = [uvs[b]! * size.width - x, uvs[b + 1]! * size.height - y];
    const parts = Math.min(MOST_PIECES, Math.ceil(Math.hypot(dx, dy) / longest)) || 1;
    for (let p = 0; p < parts; p++) {
      ends.push(x + (dx * p) / parts, y + (dy * p) / parts, x + (dx * (p + 1)) / parts, y + (dy * (p + 1)) / parts);
      owners.push(islands[Math.floor(i / 3)]!);
    }
  }
  return { ends: Float64Array.from(ends), islands: Uint32Array.from(owners) };
}

/** Edges far beyond any tile are not cut into millions. */
const MOST_PIECES = 4096;

function segmentDistance(ends: Float64Array, a: number, b: number): number {
  if (cross(ends, a, b)) return 0;
  return Math.min(
    pointDistance(ends, a, b),
    pointDistance(ends, a + 2, b),
    pointDistance(ends, b, a),
    pointDistance(ends, b + 2, a),
  );
}

function cross(ends: Float64Array, a: number, b: number): boolean {
  const side = (from: number, point: number): number =>
    (ends[from + 2]! - ends[from]!) * (ends[point + 1]! - ends[from + 1]!) -
    (ends[from + 3]! - ends[from + 1]!) * (ends[point]! - ends[from]!);
  return side(a, b) * side(a, b + 2) < 0 && side(b, a) * side(b, a + 2) < 0;
}

function pointDistance(ends: Float64Array, point: number, segment: number): number {
  const dx = ends[segment + 2]! - ends[segment]!;
  const dy = ends[segment + 3]! - ends[segment + 1]!;
  const px = ends[point]! - ends[segment]!;
  const py = ends[point + 1]! - ends[segment + 1]!;
  const along = Math.max(0, Math.min(1, (px * dx + py * dy) / (dx * dx + dy * dy || 1)));
  return Math.hypot(px - dx * along, py - dy * along);
}

/** Islands near the edge of the tile that most of them lies in. */
function edgesOfTiles(
  { ends, islands }: BorderPieces,
  { width, height }: Size,
  limit: number,
  tell: (a: number, b: null, gap: number, x: number, y: number) => void,
): void {
  const middles = new Map<number, { x: number; y: number; count: number }>();
  for (let i = 0; i < islands.length; i++) {
    const middle = middles.get(islands[i]!) ?? { x: 0, y: 0, count: 0 };
    middle.x += ends[i * 4]!;
    middle.y += ends[i * 4 + 1]!;
    middle.count++;
    middles.set(islands[i]!, middle);
  }
  for (let i = 0; i < islands.length; i++) {
    const middle = middles.get(islands[i]!)!;
    const x = ends[i * 4]! - Math.floor(middle.x / middle.count / width) * width;
    const y = ends[i * 4 + 1]! - Math.floor(middle.y / middle.count / height) * height;
    const gap = Math.min(x, y, width - x, height - y);
    // What lies beyond the edge is outside, not near it.
    if (gap < limit - SLACK && gap >= -SLACK) tell(islands[i]!, null, Math.max(0, gap), ends[i * 4]!, ends[i * 4 + 1]!);
  }
}
