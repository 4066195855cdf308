import type { Image } from '../../image/image.ts';
import { costBetween, MOST_COST } from '../cut/cutCost.ts';
import type { Meeting } from '../cut/leastVisibleCut.ts';
import { CutSide } from '../cut/minCut.ts';

export type Place = readonly [x: number, y: number];

/** A tile that is being put together from square patches of a picture. */
export interface TileOfPatches {
  image: Image;
  /** 1 for each texel that is there. */
  filled: Uint8Array;
  source: Image;
  /** Of a patch, in texels. */
  side: number;
}

/** How a patch meets what is there already, in a window with a rim of what lies around it, which stays as it is. */
export class PatchMeeting implements Meeting {
  /** Side of the window. */
  readonly width: number;
  readonly height: number;
  readonly repeats = false;
  /** Whether anything is there. */
  readonly any: boolean;
  private readonly tile: TileOfPatches;
  private readonly from: Place;
  /** Of each column and row of the window, where its texels lie in the tile. */
  private readonly columns: Int32Array;
  private readonly rows: Int32Array;
  /** Texels from here to there show, whatever was there. */
  private readonly low: number;
  private readonly high: number;

  constructor(tile: TileOfPatches, to: Place, from: Place) {
    const { side, filled, image } = tile;
    const wide = side + 2;
    this.tile = tile;
    this.from = from;
    this.width = this.height = wide;
    const { width, height } = image;
    this.columns = Int32Array.from({ length: wide }, (_, x) => (to[0] + x - 1 + width) % width);
    this.rows = Int32Array.from({ length: wide }, (_, y) => ((to[1] + y - 1 + height) % height) * width);
    let [any, empty] = [false, false];
    for (let y = 0; y < wide && !(any && empty); y++) {
      for (let x = 0; x < wide; x++) {
        if (filled[this.rows[y]! + this.columns[x]!] === 1) any = true;
        else if (this.isInner(x, y)) empty = true;
      }
    }
    this.any = any;
    // Where nothing was empty, what is there was joined to itself in a narrow place: the middle makes another join of it.
    [this.low, this.high] = empty ? [wide, 0] : [Math.round(wide / 3), Math.round((2 * wide) / 3)];
  }

  /** What is known of a cell of texels: what is known of any of them, unless it is at odds. */
  kindAt(left: number, top: number, cell: number): number {
    if (cell === 1) return this.kindOfTexel(left, top);
    const { width: wide } = this;
    const [right, bottom] = [Math.min(wide, left + cell), Math.min(wide, top + cell)];
    if (this.isInner(left, top) && this.isInner(right - 1, bottom - 1)) return this.innerKind(left, top, right, bottom);
    let [old, fresh, either] = [false, false, false];
    for (let y = top; y < bottom; y++) {
      for (let x = left; x < right; x++) {
        const own = this.plainKind(x, y);
        if (own === CutSide.old) old = true;
        else if (own === CutSide.fresh) fresh = true;
        else if (own === CutSide.either) either = true;
      }
    }
    if (old !== fresh) return old ? CutSide.old : CutSide.fresh;
    return old || either ? CutSide.either : CutSide.outside;
  }

  private innerKind(left: number, top: number, right: number, bottom: number): number {
    const { low, high, rows, columns, tile } = this;
    if (left < high && right > low && top < high && bottom > low) return CutSide.fresh;
    for (let y = top; y < bottom; y++) {
      const row = rows[y]!;
      for (let x = left; x < right; x++) if (tile.filled[row + columns[x]!] === 0) return CutSide.fresh;
    }
    return CutSide.either;
  }

  private isInner(x: number, y: number): boolean {
    return x > 0 && y > 0 && x < this.width - 1 && y < this.width - 1;
  }

  private plainKind(x: number, y: number): number {
    const isFilled = this.tile.filled[this.rows[y]! + this.columns[x]!] === 1;
    if (!this.isInner(x, y)) return isFilled ? CutSide.old : CutSide.outside;
    const { low, high } = this;
    return !isFilled || (x >= low && x < high && y >= low && y < high) ? CutSide.fresh : CutSide.either;
  }

  /**
   * Where there is but one picture no difference can be told, and a cut there would seem to cost nothing: texels beside
   * the new alone are new, those beside the old alone stay old.
   */
  private kindOfTexel(x: number, y: number): number {
    const own = this.plainKind(x, y);
    if (own !== CutSide.either) return own;
    const [left, right] = [this.plainKind(x - 1, y), this.plainKind(x + 1, y)];
    const [above, below] = [this.plainKind(x, y - 1), this.plainKind(x, y + 1)];
    const { fresh, old } = CutSide;
    if (left === fresh || right === fresh || above === fresh || below === fresh) return fresh;
    return left === old || right === old || above === old || below === old ? old : own;
  }

  costAt(x: number, y: number, way: 'right' | 'below'): number {
    const { tile, rows, columns, from } = this;
    const { filled, image, source } = tile;
    const [x2, y2] = way === 'right' ? [x + 1, y] : [x, y + 1];
    if (!this.isInner(x, y) || !this.isInner(x2, y2)) return MOST_COST;
    const [here, beside] = [rows[y]! + columns[x]!, rows[y2]! + columns[x2]!];
    if (filled[here] === 0 || filled[beside] === 0) return MOST_COST;
    const { channels, width } = source;
    const fresh = (from[1] + y - 1) * width + from[0] + x - 1;
    const next = fresh + (way === 'right' ? 1 : width);
    return costBetween(image, here * channels, beside * channels, source, fresh * channels, next * channels);
  }
}
