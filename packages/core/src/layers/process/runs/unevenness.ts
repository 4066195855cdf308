import { randomNumbers } from '../../../math/randomNumbers.ts';
import type { LayeredSurface } from '../../surface/layeredSurface.ts';

/** Cells of the table that one width of the unevenness takes. */
const CELLS_PER_WIDTH = 4;
/** Widths after which the unevenness of a mesh repeats; the most on a tile that repeats itself. */
const [WIDTHS, MOST_WIDTHS] = [16, 64];
/** The steepest slope of the unevenness. */
export const STEEPEST = 3;

/** Slopes of a smooth noise in space, in a table of cells that repeats. */
export interface Unevenness {
  /** Three for each cell, 127 for the steepest: small enough to stay in the nearest memory. */
  slopes: Int8Array;
  /** Cells along each axis. */
  cells: readonly [x: number, y: number, z: number];
  /** Millimetres after which the table repeats. */
  periods: readonly [x: number, y: number, z: number];
  /** The widest step that meets every cell, in millimetres. */
  cell: number;
}

type Three = readonly [x: number, y: number, z: number];

/**
 * @param size width of the unevenness, in millimetres; on a tile that repeats, about: the tile takes a whole number of them
 * @param repeats of the surface
 */
export function unevennessOf(size: number, seed: number, repeats: LayeredSurface['repeats']): Unevenness {
  const [x, y] = repeats ? [axisOf(repeats[0], size), axisOf(repeats[1], size)] : [wide(size), wide(size)];
  const z = repeats ? { points: 1, period: size } : wide(size);
  const points = [x.points, y.points, z.points] as const;
  const cells = points.map((count) => count * CELLS_PER_WIDTH) as unknown as Three;
  return {
    slopes: slopesOf(heightsOf(points, seed), cells),
    ...{ cells, periods: [x.period, y.period, z.period], cell: size / CELLS_PER_WIDTH },
  };
}

interface Axis {
  points: number;
  period: number;
}

const wide = (size: number): Axis => ({ points: WIDTHS, period: WIDTHS * size });

/** Along a side of a tile that repeats. */
function axisOf(length: number, size: number): Axis {
  const widths = Math.max(2, Math.round(length / size));
  const times = Math.ceil(widths / MOST_WIDTHS);
  return { points: Math.max(2, Math.round(widths / times)), period: length / times };
}

/** A smooth value noise, told at each cell. */
function heightsOf([nx, ny, nz]: Three, seed: number): Float32Array {
  const random = randomNumbers(seed);
  const points = Float32Array.from({ length: nx * ny * nz }, () => random() * 2 - 1);
  const alongX = smoothed(points, nx, 1);
  const alongY = smoothed(alongX, ny, nx * CELLS_PER_WIDTH);
  return smoothed(alongY, nz, nx * ny * CELLS_PER_WIDTH ** 2);
}

/** Fills the cells between points along one axis. @param stride from a point to the next */
function smoothed(values: Float32Array, points: number, stride: number): Float32Array {
  const cells = points * CELLS_PER_WIDTH;
  const out = new Float32Array(values.length * CELLS_PER_WIDTH);
  for (let line = 0; line < values.length / (points * stride); line++) {
    for (let cell = 0; cell < cells; cell++) {
      const point = Math.floor(cell / CELLS_PER_WIDTH);
      const share = (cell % CELLS_PER_WIDTH) / CELLS_PER_WIDTH;
      const weight = share * share * (3 - 2 * share);
      const a = (line * points + point) * stride;
      const b = (line * points + ((point + 1) % points)) * stride;
      const to = (line * cells + cell) * stride;
      for (let i = 0; i < stride; i++) out[to + i] = values[a + i]! + (values[b + i]! - values[a + i]!) * weight;
    }
  }
  return out;
}

/** Down the noise, over a width of it. */
function slopesOf(heights: Float32Array, [nx, ny, nz]: Three): Int8Array {
  const slopes = new Int8Array(heights.length * 3);
  const slope = (before: number, after: number): number => {
    const down = ((heights[before]! - heights[after]!) / 2) * CELLS_PER_WIDTH;
    return Math.round(Math.max(-1, Math.min(1, down / STEEPEST)) * 127);
  };
  for (let z = 0; z < nz; z++) {
    for (let y = 0; y < ny; y++) {
      for (let x = 0; x < nx; x++) {
        const to = (z * ny + y) * nx + x;
        const row = to - x;
        const layer = z * ny * nx + x;
        const column = y * nx + x;
        slopes[to * 3] = slope(row + ((x + nx - 1) % nx), row + ((x + 1) % nx));
        slopes[to * 3 + 1] = slope(layer + ((y + ny - 1) % ny) * nx, layer + ((y + 1) % ny) * nx);
        slopes[to * 3 + 2] = slope(((z + nz - 1) % nz) * ny * nx + column, ((z + 1) % nz) * ny * nx + column);
      }
    }
  }
  return slopes;
}
