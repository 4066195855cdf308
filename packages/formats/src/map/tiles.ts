import type { ImageMeaning } from '@zographos/core/image';

/** Texels along the side of a stored tile. */
export const TILE = 256;

/** Where the tiles of one level lie in the stored bytes. */
export interface TileLevel {
  width: number;
  height: number;
  columns: number;
  rows: number;
  /** Offset of each tile, row by row, and one entry more for the end. */
  offsets: number[];
}

/**
 * Describes a map stored as a pyramid of tiles: level 0 is the map itself, each further level half its size,
 * the last fits one tile. Each tile is a zlib stream of its samples.
 */
export interface TileDirectory extends ImageMeaning {
  channels: number;
  /** Float samples have their bytes sorted into four planes before compression; states are single bytes. */
  samples: 'float32' | 'uint8';
  levels: TileLevel[];
}

/** The size in texels of one tile; those at the right and bottom border may be smaller. */
export function tileSize(level: TileLevel, column: number, row: number): { width: number; height: number } {
  return {
    width: Math.min(TILE, level.width - column * TILE),
    height: Math.min(TILE, level.height - row * TILE),
  };
}

/** Sorts the bytes of floats into planes, most alike together, which zlib compresses far better. */
export function shufflePlanes(values: Float32Array): Uint8Array<ArrayBuffer> {
  const bytes = new Uint8Array(values.buffer, values.byteOffset, values.byteLength);
  const count = values.length;
  const planes = new Uint8Array(bytes.length);
  for (let i = 0; i < count; i++) {
    planes[i] = bytes[i * 4]!;
    planes[count + i] = bytes[i * 4 + 1]!;
    planes[count * 2 + i] = bytes[i * 4 + 2]!;
    planes[count * 3 + i] = bytes[i * 4 + 3]!;
  }
  return planes;
}

/** The floats of a tile from its inflated bytes. */
export function unshufflePlanes(planes: Uint8Array): Float32Array<ArrayBuffer> {
  const count = planes.length / 4;
  const values = new Float32Array(count);
  const bytes = new Uint8Array(values.buffer);
  for (let i = 0; i < count; i++) {
    bytes[i * 4] = planes[i]!;
    bytes[i * 4 + 1] = planes[count + i]!;
    bytes[i * 4 + 2] = planes[count * 2 + i]!;
    bytes[i * 4 + 3] = planes[count * 3 + i]!;
  }
  return values;
}
