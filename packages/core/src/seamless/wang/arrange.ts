import { elementRandom } from '../../pattern/shapes/elements.ts';
import { placeOfTile, TILES_ACROSS } from './cornerTorus.ts';

/** An atlas of tiles, or what is arranged of them: values of any type, row by row. */
interface Texels<Data> {
  width: number;
  height: number;
  data: Data;
}

/**
 * A plane of tiles whose corners have colours at random, so that it repeats nowhere: what an engine shows of the atlas.
 * @param atlas four by four tiles, as `wangTiles` makes it
 * @param values of each texel
 * @param across, up tiles of the plane; its opposite borders match
 * @example arrangeTiles(atlas, 4, 8, 8, 1)
 */
export function arrangeTiles<Data extends Float32Array | Uint8ClampedArray<ArrayBuffer>>(
  atlas: Texels<Data>,
  values: number,
  across: number,
  up: number,
  seed: number,
): Texels<Data> {
  const [wide, tall] = [Math.floor(atlas.width / TILES_ACROSS), Math.floor(atlas.height / TILES_ACROSS)];
  const [width, height] = [across * wide, up * tall];
  const data = new (atlas.data.constructor as new (length: number) => Data)(width * height * values);
  const color = (column: number, row: number): number =>
    elementRandom((row % up) * across + (column % across), 0, seed) < 0.5 ? 0 : 1;
  for (let row = 0; row < up; row++) {
    for (let column = 0; column < across; column++) {
      const [x, y] = placeOfTile([
        color(column, row),
        color(column + 1, row),
        color(column, row + 1),
        color(column + 1, row + 1),
      ]);
      for (let line = 0; line < tall; line++) {
        const from = ((y * tall + line) * atlas.width + x * wide) * values;
        data.set(
          atlas.data.subarray(from, from + wide * values),
          ((row * tall + line) * width + column * wide) * values,
        );
      }
    }
  }
  return { width, height, data };
}
