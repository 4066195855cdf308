import { ALL, BAND, bandedCut, settledPlaces, softenedCut } from '../ends/bandedCut.ts';
import { CutSide, minCut } from './minCut.ts';
import { PatchMeeting, type Place, type TileOfPatches } from './patchMeeting.ts';

/** The cut of a large patch is first sought among cells of so many texels, then among ever smaller ones. */
const CELLS = [4, 2, 1];
/** Cells along the side of a patch, at the least. */
const LEAST_CELLS = 64;

/**
 * Where a patch shows that is laid into a tile: in all that was empty, and in what was not up to the least visible
 * boundary. It is first sought roughly, and then among the texels about it.
 * @returns texel by texel of the patch, in eighths
 */
export function joined(tile: TileOfPatches, to: Place, from: Place): Uint8Array<ArrayBuffer> {
  const { side } = tile;
  const meeting = new PatchMeeting(tile, to, from);
  if (!meeting.any) return new Uint8Array(side * side).fill(ALL);
  const { wide } = meeting;
  let cut: Uint8Array | null = null;
  let search: Search | null = null;
  for (const cell of CELLS.filter((each) => each === 1 || side >= each * LEAST_CELLS)) {
    const cells = Math.ceil(wide / cell);
    search = cut ? about(cut, meeting, cell, cells) : everywhere(meeting, cell, cells);
    cut = (cut ? minCut : bandedCut)(search.difference, search.kind, cells, cells);
  }
  const soft = softenedCut(cut!, search!.kind, wide);
  const shows = new Uint8Array(side * side);
  for (let y = 0; y < side; y++) shows.set(soft.subarray((y + 1) * wide + 1, (y + 1) * wide + 1 + side), y * side);
  return shows;
}

/** What a cut is sought in: cells of the window. */
interface Search {
  kind: Uint8Array;
  difference: Int32Array;
}

const searchOf = (cells: number): Search => ({
  kind: new Uint8Array(cells * cells),
  difference: new Int32Array(cells * cells),
});

function everywhere(meeting: PatchMeeting, cell: number, cells: number): Search {
  const search = searchOf(cells);
  for (let y = 0; y < cells; y++) {
    for (let x = 0; x < cells; x++) {
      search.kind[y * cells + x] = meeting.kindAt(x * cell, y * cell, cell);
      search.difference[y * cells + x] = meeting.costAt(x * cell, y * cell, cell);
    }
  }
  return search;
}

/** Where the cut among cells twice as large runs; what lies farther away from it is settled. */
function about(rough: Uint8Array, meeting: PatchMeeting, cell: number, cells: number): Search {
  const search = searchOf(cells);
  const across = Math.ceil(meeting.wide / (2 * cell));
  const settled = settledPlaces(rough, across, across);
  // What it would cost to cut beside what is settled is to be known as well.
  const isFar = settledPlaces(rough, across, across, BAND + 1);
  // At the rim what stays and what may be empty are side by side.
  const isSettled = (X: number, Y: number): boolean =>
    X > 0 && Y > 0 && X < across - 1 && Y < across - 1 && settled[Y * across + X] === 1;
  for (let Y = 0; Y < across; Y++) {
    const bottom = Math.min(cells, 2 * Y + 2);
    for (let X = 0; X < across;) {
      const start = X;
      const side = rough[Y * across + X]!;
      const isOpen = !isSettled(X, Y);
      if (isOpen) X++;
      else while (isSettled(X, Y) && rough[Y * across + X] === side) X++;
      const kind = side === 1 ? CutSide.fresh : CutSide.old;
      for (let y = 2 * Y; y < bottom; y++) {
        if (!isOpen) search.kind.fill(kind, y * cells + 2 * start, y * cells + 2 * X);
        for (let x = 2 * start; x < Math.min(cells, 2 * X); x++) {
          const at = y * cells + x;
          if (isOpen) search.kind[at] = meeting.kindAt(x * cell, y * cell, cell);
          if (isOpen || isFar[Y * across + (x >> 1)] === 0)
            search.difference[at] = meeting.costAt(x * cell, y * cell, cell);
        }
      }
    }
  }
  return search;
}
