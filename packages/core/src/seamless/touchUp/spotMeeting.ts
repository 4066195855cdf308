import type { Image } from '../../image/image.ts';
import { wrapped } from '../../image/sample.ts';
import { costBetween, MOST_COST } from '../cut/cutCost.ts';
import type { Meeting } from '../cut/leastVisibleCut.ts';
import { CutSide } from '../cut/minCut.ts';
import type { Point, SpotWindow } from './spot.ts';

/** The surroundings of a spot, and the texture that comes into them from elsewhere in the tile. */
export class SpotMeeting implements Meeting {
  readonly width: number;
  readonly height: number;
  readonly repeats = false;
  private readonly tile: Image;
  private readonly side: Uint8Array;
  /** Where columns and rows of both lie in the tile's data. */
  private readonly columns: Int32Array;
  private readonly rows: Int32Array;
  private readonly freshColumns: Int32Array;
  private readonly freshRows: Int32Array;

  /** @param way from a texel to that which takes its place */
  constructor(tile: Image, { left, top, width, height, side }: SpotWindow, [dx, dy]: Point) {
    this.tile = tile;
    this.width = width;
    this.height = height;
    this.side = side;
    const places = (first: number, count: number, size: number, stride: number): Int32Array =>
      Int32Array.from({ length: count }, (_, i) => wrapped(first + i, size, 'repeat') * stride);
    const { channels } = tile;
    this.columns = places(left, width, tile.width, channels);
    this.rows = places(top, height, tile.height, tile.width * channels);
    this.freshColumns = places(left + dx, width, tile.width, channels);
    this.freshRows = places(top + dy, height, tile.height, tile.width * channels);
  }

  kindAt(left: number, top: number, cell: number): number {
    const { width, height, side } = this;
    let [old, fresh] = [false, false];
    for (let y = top; y < Math.min(height, top + cell); y++) {
      for (let x = left; x < Math.min(width, left + cell); x++) {
        if (side[y * width + x] === CutSide.old) old = true;
        if (side[y * width + x] === CutSide.fresh) fresh = true;
      }
    }
    return old === fresh ? CutSide.either : old ? CutSide.old : CutSide.fresh;
  }

  costAt(x: number, y: number, way: 'right' | 'below'): number {
    const [x2, y2] = way === 'right' ? [x + 1, y] : [x, y + 1];
    if (x2 >= this.width || y2 >= this.height) return MOST_COST;
    const { tile, columns, rows, freshColumns, freshRows } = this;
    return costBetween(
      tile,
      rows[y]! + columns[x]!,
      rows[y2]! + columns[x2]!,
      tile,
      freshRows[y]! + freshColumns[x]!,
      freshRows[y2]! + freshColumns[x2]!,
    );
  }
}
