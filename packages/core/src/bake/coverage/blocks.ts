import type { Size } from '../../math/size.ts';
import { sharedUint32 } from '../../sharedArrays.ts';

/** Texels along the side of a block: the unit of work, of progress and of cancelling. */
export const BLOCK = 32;

/** Which triangles may touch which block of a map. */
export interface BlockPlan {
  size: Size;
  columns: number;
  rows: number;
  /** Where each block's triangles begin in `triangles`; one more entry than blocks. */
  starts: Uint32Array;
  /** Triangle numbers, ascending within each block. */
  triangles: Uint32Array;
  /** Triangles that lie wholly or partly outside the tile. */
  outsideTile: number;
}

/**
 * Sorts a receiver's triangles into blocks of texels by the bounds of their UVs.
 * @param uvs u, v for each vertex; the tile is 0 to 1
 */
export function planBlocks(uvs: Float32Array, indices: Uint32Array, size: Size): BlockPlan {
  const columns = Math.ceil(size.width / BLOCK);
  const rows = Math.ceil(size.height / BLOCK);
  const starts = sharedUint32(columns * rows + 1);
  let outsideTile = 0;
  const slack = 1e-5;

  const visit = (place: (block: number, triangle: number) => void, countOutside: boolean): void => {
    for (let t = 0; t < indices.length / 3; t++) {
      const a = indices[t * 3]! * 2;
      const b = indices[t * 3 + 1]! * 2;
      const c = indices[t * 3 + 2]! * 2;
      const minU = Math.min(uvs[a]!, uvs[b]!, uvs[c]!);
      const maxU = Math.max(uvs[a]!, uvs[b]!, uvs[c]!);
      const minV = Math.min(uvs[a + 1]!, uvs[b + 1]!, uvs[c + 1]!);
      const maxV = Math.max(uvs[a + 1]!, uvs[b + 1]!, uvs[c + 1]!);
      if (countOutside && (minU < -slack || minV < -slack || maxU > 1 + slack || maxV > 1 + slack)) outsideTile++;
      if (!(maxU >= 0 && minU <= 1 && maxV >= 0 && minV <= 1)) continue;
      const left = clampIndex(Math.floor((minU * size.width) / BLOCK), columns);
      const right = clampIndex(Math.floor((maxU * size.width) / BLOCK), columns);
      const top = clampIndex(Math.floor(((1 - maxV) * size.height) / BLOCK), rows);
      const bottom = clampIndex(Math.floor(((1 - minV) * size.height) / BLOCK), rows);
      for (let y = top; y <= bottom; y++) for (let x = left; x <= right; x++) place(y * columns + x, t);
    }
  };

  visit((block) => starts[block + 1]!++, true);
  for (let b = 0; b < columns * rows; b++) starts[b + 1]! += starts[b]!;
  const triangles = sharedUint32(starts[columns * rows]!);
  const next = starts.slice(0, columns * rows);
  visit((block, triangle) => (triangles[next[block]!++] = triangle), false);
  return { size, columns, rows, starts, triangles, outsideTile };
}

/** Where a texel of a block, counted row by row in it, lies in the whole map. */
export function texelOfBlock({ columns, size }: BlockPlan, block: number, texel: number): number {
  const left = (block % columns) * BLOCK;
  const top = Math.floor(block / columns) * BLOCK;
  return (top + Math.floor(texel / BLOCK)) * size.width + left + (texel % BLOCK);
}

const clampIndex = (index: number, count: number): number => Math.max(0, Math.min(count - 1, index));
