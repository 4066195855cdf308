import { ALL, softenedCut } from '../cut/bandedCut.ts';
import { leastVisibleCut } from '../cut/leastVisibleCut.ts';
import { PatchMeeting, type Place, type TileOfPatches } from './patchMeeting.ts';

/**
 * Where a patch shows that is laid into a tile: in all that was empty, and in what was not up to the least visible
 * boundary.
 * @returns texel by texel of the patch, in eighths
 */
export function joined(tile: TileOfPatches, to: Place, from: Place): Uint8Array<ArrayBuffer> {
  const { side } = tile;
  const meeting = new PatchMeeting(tile, to, from);
  if (!meeting.any) return new Uint8Array(side * side).fill(ALL);
  const { width } = meeting;
  const { cut, kind } = leastVisibleCut(meeting);
  const soft = softenedCut(cut, kind, width);
  const shows = new Uint8Array(side * side);
  for (let y = 0; y < side; y++) shows.set(soft.subarray((y + 1) * width + 1, (y + 1) * width + 1 + side), y * side);
  return shows;
}
