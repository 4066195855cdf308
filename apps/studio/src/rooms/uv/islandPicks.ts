import { shiftBy, turnAndScale, type UvMatrix } from '@zographos/core/uv';
import type { LaidMeshes } from './layout/layoutWorker.ts';

/** Choosing islands and reckoning where they are moved to. Places are u, v; boxes u0, v0, u1, v1. */

export type Box = readonly [u0: number, v0: number, u1: number, v1: number];
export type Move = { islands: number[]; matrix: UvMatrix };

/** The triangle at a place, the last drawn where several lie on each other; −1 for none. */
export function triangleAt({ corners }: LaidMeshes, u: number, v: number): number {
  for (let t = corners.length / 6 - 1; t >= 0; t--) {
    const i = t * 6;
    const [ax, ay, bx, by] = [corners[i]!, corners[i + 1]!, corners[i + 2]!, corners[i + 3]!];
    const [cx, cy] = [corners[i + 4]!, corners[i + 5]!];
    const p = (bx - ax) * (v - ay) - (by - ay) * (u - ax);
    const q = (cx - bx) * (v - by) - (cy - by) * (u - bx);
    const r = (ax - cx) * (v - cy) - (ay - cy) * (u - cx);
    if ((p >= 0 && q >= 0 && r >= 0) || (p <= 0 && q <= 0 && r <= 0)) {
      if (p + q + r !== 0) return t;
    }
  }
  return -1;
}

export const boxOfIsland = ({ boxes }: LaidMeshes, island: number): Box => {
  const [u0, v0, u1, v1] = boxes.subarray(island * 4, island * 4 + 4);
  return [u0!, v0!, u1!, v1!];
};

/** The box around some islands; null for none. */
export function boxOf(layout: LaidMeshes, islands: Iterable<number>): Box | null {
  let box: Box | null = null;
  for (const island of islands) {
    const [u0, v0, u1, v1] = boxOfIsland(layout, island);
    box = box
      ? [Math.min(box[0], u0), Math.min(box[1], v0), Math.max(box[2], u1), Math.max(box[3], v1)]
      : [u0, v0, u1, v1];
  }
  return box;
}

/** Islands that lie wholly in a box. */
export function islandsWithin(layout: LaidMeshes, [u0, v0, u1, v1]: Box): number[] {
  const within: number[] = [];
  for (let island = 0; island < layout.boxes.length / 4; island++) {
    const [a, b, c, d] = boxOfIsland(layout, island);
    if (a >= u0 && b >= v0 && c <= u1 && d <= v1) within.push(island);
  }
  return within;
}

export const middleOf = ([u0, v0, u1, v1]: Box): [number, number] => [(u0 + u1) / 2, (v0 + v1) / 2];

export const ALIGNMENTS = ['left', 'centre-across', 'right', 'top', 'centre-up', 'bottom'] as const;
export type Alignment = (typeof ALIGNMENTS)[number];
export const ALIGNMENT_LABELS: Record<(typeof ALIGNMENTS)[number], string> = {
  left: 'Left',
  'centre-across': 'Centre horizontally',
  right: 'Right',
  top: 'Top',
  'centre-up': 'Centre vertically',
  bottom: 'Bottom',
};

/** Lines islands up with the box around all of them. */
export function aligned(layout: LaidMeshes, islands: readonly number[], to: Alignment): Move[] {
  const all = boxOf(layout, islands);
  if (!all) return [];
  return islands.map((island) => {
    const box = boxOfIsland(layout, island);
    const shifts: Record<Alignment, UvMatrix> = {
      left: shiftBy(all[0] - box[0], 0),
      right: shiftBy(all[2] - box[2], 0),
      bottom: shiftBy(0, all[1] - box[1]),
      top: shiftBy(0, all[3] - box[3]),
      'centre-across': shiftBy(middleOf(all)[0] - middleOf(box)[0], 0),
      'centre-up': shiftBy(0, middleOf(all)[1] - middleOf(box)[1]),
    };
    return { islands: [island], matrix: shifts[to] };
  });
}

/** Lays islands over the first of them, middle on middle. */
export function stacked(layout: LaidMeshes, islands: readonly number[]): Move[] {
  const [first, ...others] = islands;
  if (first === undefined) return [];
  const [u, v] = middleOf(boxOfIsland(layout, first));
  return others.map((island) => {
    const [x, y] = middleOf(boxOfIsland(layout, island));
    return { islands: [island], matrix: shiftBy(u - x, v - y) };
  });
}

/** Brings islands into the tile their middle lies in, or the first one; those larger than a tile get their corner there. */
export function broughtBack(layout: LaidMeshes, islands: readonly number[], tiles: readonly number[]): Move[] {
  return islands.map((island) => {
    const box = boxOfIsland(layout, island);
    const [u, v] = middleOf(box);
    const tile = 1001 + Math.floor(u) + 10 * Math.floor(v);
    const inUse = u >= 0 && u < 10 && v >= 0 && tiles.includes(tile);
    const [left, bottom] = inUse ? [Math.floor(u), Math.floor(v)] : [0, 0];
    const [fromU, fromV] = inUse ? [0, 0] : [left - Math.floor(u), bottom - Math.floor(v)];
    const inside = (low: number, high: number, edge: number): number => {
      if (low < edge || high - low > 1) return edge - low;
      return high > edge + 1 ? edge + 1 - high : 0;
    };
    return {
      islands: [island],
      matrix: shiftBy(
        fromU + inside(box[0] + fromU, box[2] + fromU, left),
        fromV + inside(box[1] + fromV, box[3] + fromV, bottom),
      ),
    };
  });
}

/** Mirrors about a place, across or up. */
export const mirrorAbout = (pivot: readonly [number, number], across: boolean): UvMatrix =>
  turnAndScale(pivot, 0, across ? [-1, 1] : [1, -1]);

/** The nearest shift by which a corner of a box lies on a texel. */
export const snapped = (value: number, texels: number): number => Math.round(value * texels) / texels;

/** A layout with islands moved, as it will be when it is read again. */
export function withMoves(layout: LaidMeshes, moves: readonly Move[]): LaidMeshes {
  const matrixOf = new Map(moves.flatMap(({ islands, matrix }) => islands.map((island) => [island, matrix] as const)));
  const corners = layout.corners.slice();
  const boxes = layout.boxes.slice();
  for (const island of matrixOf.keys()) boxes.set([Infinity, Infinity, -Infinity, -Infinity], island * 4);
  for (let i = 0; i < corners.length / 2; i++) {
    const island = layout.islandOf[Math.floor(i / 3)]!;
    const matrix = matrixOf.get(island);
    if (!matrix) continue;
    const [a, b, c, d, e, f] = matrix;
    const [u, v] = [corners[i * 2]!, corners[i * 2 + 1]!];
    const [x, y] = [a * u + c * v + e, b * u + d * v + f];
    corners[i * 2] = x;
    corners[i * 2 + 1] = y;
    const box = island * 4;
    boxes[box] = Math.min(boxes[box]!, x);
    boxes[box + 1] = Math.min(boxes[box + 1]!, y);
    boxes[box + 2] = Math.max(boxes[box + 2]!, x);
    boxes[box + 3] = Math.max(boxes[box + 3]!, y);
  }
  return { ...layout, corners, boxes };
}
