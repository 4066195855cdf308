import { promisify } from 'node:util';
import zlib from 'node:zlib';
import { halve, halveStates, meaningOf, type Image } from '@zographos/core/image';
import { TILE, shufflePlanes, tileSize, unshufflePlanes, type TileDirectory, type TileLevel } from './tiles.ts';

const deflate = promisify<zlib.InputType, zlib.ZlibOptions, Buffer>(zlib.deflate);
const inflate = promisify<zlib.InputType, Buffer>(zlib.inflate);

/** Takes the bytes of a stored map in order. */
export type ByteSink = (bytes: Uint8Array) => Promise<void>;

/** Returns a range of the bytes of a stored map. */
export type ByteSource = (offset: number, length: number) => Promise<Uint8Array>;

/** Stores an image as a pyramid of compressed tiles; returns where everything lies. */
export async function storeImage(image: Image, sink: ByteSink): Promise<TileDirectory> {
  const { channels } = image;
  const levels: TileLevel[] = [];
  let offset = 0;
  let level: Image | null = image;
  while (level) {
    const { width, data }: Image = level;
    const stored: TileLevel = await storeLevel(level.width, level.height, offset, sink, (x, y, w, h) => {
      const tile = new Float32Array(w * h * channels);
      for (let row = 0; row < h; row++) {
        const from = ((y + row) * width + x) * channels;
        tile.set(data.subarray(from, from + w * channels), row * w * channels);
      }
      return shufflePlanes(tile);
    });
    levels.push(stored);
    offset = stored.offsets.at(-1)!;
    level = Math.max(level.width, level.height) > TILE ? halve(level) : null;
  }
  return { channels, samples: 'float32', levels, ...meaningOf(image) };
}

/** Stores a plane of texel states the same way, so that it can be laid over its map at every level. */
export async function storeStates(
  size: { width: number; height: number },
  states: Uint8Array,
  sink: ByteSink,
): Promise<TileDirectory> {
  const levels: TileLevel[] = [];
  let { width, height } = size;
  let plane = states;
  let offset = 0;
  for (;;) {
    const stride = width;
    const current = plane;
    const stored = await storeLevel(width, height, offset, sink, (x, y, w, h) => {
      const tile = new Uint8Array(w * h);
      for (let row = 0; row < h; row++) {
        const from = (y + row) * stride + x;
        tile.set(current.subarray(from, from + w), row * w);
      }
      return tile;
    });
    levels.push(stored);
    offset = stored.offsets.at(-1)!;
    if (Math.max(width, height) <= TILE) return { channels: 1, samples: 'uint8', levels };
    plane = halveStates(width, height, plane);
    width = Math.ceil(width / 2);
    height = Math.ceil(height / 2);
  }
}

/** Compresses the tiles of one level, a row of them at a time. */
async function storeLevel(
  width: number,
  height: number,
  start: number,
  sink: ByteSink,
  cut: (x: number, y: number, w: number, h: number) => Uint8Array,
): Promise<TileLevel> {
  const level: TileLevel = {
    width,
    height,
    columns: Math.ceil(width / TILE),
    rows: Math.ceil(height / TILE),
    offsets: [start],
  };
  for (let row = 0; row < level.rows; row++) {
    const tiles = Array.from({ length: level.columns }, (_, column) => {
      const { width: w, height: h } = tileSize(level, column, row);
      return deflate(cut(column * TILE, row * TILE, w, h), { level: 1 });
    });
    for (const tile of await Promise.all(tiles)) {
      await sink(tile);
      level.offsets.push(level.offsets.at(-1)! + tile.length);
    }
  }
  return level;
}

/** Puts one level of a stored map together again. */
export async function loadImage(directory: TileDirectory, source: ByteSource, levelNumber = 0): Promise<Image> {
  const level = directory.levels[levelNumber]!;
  const { channels } = directory;
  const image: Image = {
    width: level.width,
    height: level.height,
    channels,
    data: new Float32Array(level.width * level.height * channels),
    ...meaningOf(directory),
  };
  for (let row = 0; row < level.rows; row++) {
    for (let column = 0; column < level.columns; column++) {
      const at = row * level.columns + column;
      const from = level.offsets[at]!;
      const planes = await inflate(await source(from, level.offsets[at + 1]! - from));
      const tile = directory.samples === 'float32' ? unshufflePlanes(planes) : planes;
      const { width, height } = tileSize(level, column, row);
      for (let y = 0; y < height; y++) {
        const to = ((row * TILE + y) * level.width + column * TILE) * channels;
        image.data.set(tile.subarray(y * width * channels, (y + 1) * width * channels), to);
      }
    }
  }
  return image;
}
