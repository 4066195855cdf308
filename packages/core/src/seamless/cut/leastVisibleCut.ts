import { bandedCut, BAND, settledPlaces } from './bandedCut.ts';
import { MOST_COST, noCost, type CutCost } from './cutCost.ts';
import { CutSide, minCut } from './minCut.ts';

/** A cut is first sought among cells of so many texels, then among ever smaller ones. */
const CELLS = [4, 2, 1] as const;
type CellSize = (typeof CELLS)[number];

/** Texels of a cell that tell what a cut costs there, along its diagonal. */
const SAMPLED: Readonly<Record<CellSize, readonly number[]>> = { 1: [0], 2: [0, 1], 4: [1, 2] };

/** Two pictures that lie on each other in a window, and what is known of where each shows. */
export interface Meeting {
  width: number;
  height: number;
  /** Whether the first row lies below the last. */
  repeats: boolean;
  /** One of `CutSide` for a cell of texels: what is known of any of them, unless it is at odds. */
  kindAt: (left: number, top: number, cell: number) => number;
  /** What a cut costs between a texel and the one to its right, or below it. */
  costAt: (x: number, y: number, way: 'right' | 'below') => number;
}

/** What a cut costs between a cell of texels and the one to its right, or below it; the most where nothing tells. */
function cellCost(meeting: Meeting, left: number, top: number, cell: CellSize, way: 'right' | 'below'): number {
  let [sum, count] = [0, 0];
  for (const k of SAMPLED[cell]) {
    const [x, y] = [left + k, top + k];
    if (x >= meeting.width || y >= meeting.height) break;
    sum += meeting.costAt(x, y, way);
    count++;
  }
  return count > 0 ? Math.round(sum / count) : MOST_COST;
}

/** Windows of fewer cells are not made of larger ones. */
const LEAST_CELLS = 128 * 128;

/**
 * The least visible boundary between two pictures. In large windows it is first sought roughly, and then among the
 * texels about it.
 * @returns 1 where the new picture shows, texel by texel, and what was known of each beside the cut
 */
export function leastVisibleCut(meeting: Meeting): { cut: Uint8Array; kind: Uint8Array } {
  const { width, height, repeats } = meeting;
  let cut: Uint8Array | null = null;
  let search: Search | null = null;
  for (const cell of CELLS) {
    const [w, h] = [Math.ceil(width / cell), Math.ceil(height / cell)];
    if (cell > 1 && w * h < LEAST_CELLS) continue;
    search = cut ? about(cut, meeting, cell, w, h) : everywhere(meeting, cell, w, h);
    cut = (cut ? minCut : bandedCut)(search.cost, search.kind, w, h, repeats);
  }
  return { cut: cut!, kind: search!.kind };
}

/** What a cut is sought in: cells of the window. */
interface Search {
  kind: Uint8Array;
  cost: CutCost;
}

const searchOf = (cells: number): Search => ({ kind: new Uint8Array(cells), cost: noCost(cells) });

function tellCost({ cost }: Search, meeting: Meeting, at: number, x: number, y: number, cell: CellSize): void {
  cost.right[at] = cellCost(meeting, x * cell, y * cell, cell, 'right');
  cost.below[at] = cellCost(meeting, x * cell, y * cell, cell, 'below');
}

function everywhere(meeting: Meeting, cell: CellSize, w: number, h: number): Search {
  const search = searchOf(w * h);
  for (let y = 0, at = 0; y < h; y++) {
    for (let x = 0; x < w; x++, at++) {
      search.kind[at] = meeting.kindAt(x * cell, y * cell, cell);
      tellCost(search, meeting, at, x, y, cell);
    }
  }
  return search;
}

/** Where the cut among cells twice as large runs; what lies farther away from it is settled. */
function about(rough: Uint8Array, meeting: Meeting, cell: CellSize, w: number, h: number): Search {
  const search = searchOf(w * h);
  const { width, height, repeats } = meeting;
  const [W, H] = [Math.ceil(width / (2 * cell)), Math.ceil(height / (2 * cell))];
  const settled = settledPlaces(rough, W, H, BAND, repeats);
  // What it would cost to cut beside what is settled is to be known as well.
  const isFar = settledPlaces(rough, W, H, BAND + 1, repeats);
  // At the rim what stays and what may be empty are side by side.
  const isSettled = (X: number, Y: number): boolean =>
    X > 0 && X < W - 1 && (repeats || (Y > 0 && Y < H - 1)) && settled[Y * W + X] === 1;
  for (let Y = 0; Y < H; Y++) {
    const bottom = Math.min(h, 2 * Y + 2);
    for (let X = 0; X < W;) {
      const start = X;
      const side = rough[Y * W + X]!;
      const isOpen = !isSettled(X, Y);
      if (isOpen) X++;
      else while (isSettled(X, Y) && rough[Y * W + X] === side) X++;
      const kind = side === 1 ? CutSide.fresh : CutSide.old;
      for (let y = 2 * Y; y < bottom; y++) {
        if (!isOpen) search.kind.fill(kind, y * w + 2 * start, y * w + 2 * X);
        for (let x = 2 * start; x < Math.min(w, 2 * X); x++) {
          const at = y * w + x;
          if (isOpen) search.kind[at] = meeting.kindAt(x * cell, y * cell, cell);
          if (isOpen || isFar[Y * W + (x >> 1)] === 0) tellCost(search, meeting, at, x, y, cell);
        }
      }
    }
  }
  return search;
}
