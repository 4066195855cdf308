import type { Dimensions } from './lattice.ts';

/** Distances to the nearest and the second nearest point, in cells. */
export interface CellDistances {
  nearest: number;
  second: number;
  /** A random number 0 to 1 of the nearest: one of 256. */
  id: number;
}

/** Numbered as in kernel/picture/cellularNoise.ts. */
export const CELL_MEASURES = ['nearest', 'second', 'border', 'flat', 'cracks'] as const;

/** A cellular noise and what becomes of its distances. */
export interface Cells {
  dimensions: Dimensions;
  /** Of `permutation`. */
  table: Uint8Array;
  /** Cells across the tile. */
  cells: number;
  /** 0 puts points into the middle of their cells, 1 anywhere in them. */
  jitter: number;
  measure: (typeof CELL_MEASURES)[number];
  /** How far from the border between two cells a crack ends and the ground begins, in cells. */
  edge: readonly [low: number, high: number];
}

/**
 * Distances to scattered points, one in each cell of a lattice (Worley, "A Cellular Texture Basis Function", 1996). Every
 * cell is looked at that could hold a nearer point, so distances are exact.
 * @param jitter 0 puts points into the middle of their cells, 1 anywhere in them
 * @param onNearer told each point that is nearer than those before, by the cell it lies in and that cell's hash
 * @returns a function that fills and gives back the same object each time
 */
export function cellularNoise(
  table: Uint8Array,
  dimensions: Dimensions,
  jitter: number,
  onNearer?: (cell: Int32Array, hash: number) => void,
): (x: number, y: number, z: number, w: number) => CellDistances {
  const found: CellDistances = { nearest: 0, second: 0, id: 0 };
  const place = new Float64Array(4);
  const cell = new Int32Array(4);
  const at = new Int32Array(4);
  let [first, second] = [0, 0];

  /** Goes through the cells along an axis, the nearest first, as long as they can hold a nearer point. */
  const seek = (axis: number, so: number, hash: number): void => {
    if (axis === dimensions) {
      compare(hash);
      return;
    }
    const t = place[axis]! - cell[axis]!;
    for (let n = 0; n < 5; n++) {
      const offset =
        n === 0 ? 0 : (n + 1) >> 1 === 1 ? ((n === 1) === t < 0.5 ? -1 : 1) : (n === 3) === t < 0.5 ? -2 : 2;
      const off = offset === 0 ? 0 : offset < 0 ? t - offset - 1 : offset - t;
      const far = so + off * off;
      if (far >= second) continue;
      at[axis] = cell[axis]! + offset;
      seek(axis + 1, far, table[hash + (at[axis] & 255)]!);
    }
  };

  const compare = (hash: number): void => {
    let sum = 0;
    for (let k = 0; k < dimensions; k++) {
      const shift = table[hash + k]! / 256 + 1 / 512;
      const off = at[k]! + 0.5 + (shift - 0.5) * jitter - place[k]!;
      sum += off * off;
    }
    if (sum < first) {
      second = first;
      first = sum;
      found.id = table[(hash + 91) & 255]! / 255;
      onNearer?.(at, hash);
    } else if (sum < second) second = sum;
  };

  return (x, y, z, w) => {
    place[0] = x;
    place[1] = y;
    place[2] = z;
    place[3] = w;
    for (let k = 0; k < dimensions; k++) cell[k] = Math.floor(place[k]!);
    first = Infinity;
    second = Infinity;
    seek(0, 0, 0);
    found.nearest = Math.sqrt(first);
    found.second = Math.sqrt(second);
    return found;
  };
}
