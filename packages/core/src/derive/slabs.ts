import type { Border } from '../image/filter/resample.ts';
import type { Size } from '../math/size.ts';
import { wrapped } from '../image/sample.ts';
import type { KernelTeam } from '../kernel/kernelTeam.ts';

/** Columns of a slab, more at either side of it, and more at either side of the picture: mirrored by kernel/picture/occlusion.ts. */
const SLAB = 64;
const BESIDE = 4;
const MARGIN = 8;
const WIDE = SLAB + 2 * BESIDE;
/** Where the first column of the picture lies in a row of all slabs. */
const FIRST = BESIDE + MARGIN;

/** Rows that are copied at a time: of a picture turned over, as many columns, which lie together in memory. */
const ROWS = 16;

/**
 * A picture of one channel in the kernel's memory that is walked through from the top down: in slabs of columns, each row
 * by row, so that what is walked along lies together. Slabs overlap, and the picture goes on beyond both sides.
 */
export class Slabs {
  readonly at: number;
  /** Bytes of a slab. */
  readonly bytes: number;
  private readonly team: KernelTeam;
  private readonly size: Size;
  private readonly isTurned: boolean;
  private readonly count: number;
  private readonly rows: Float32Array[];

  /** @param isTurned whether its rows are the columns of what is laid in and taken out */
  constructor(team: KernelTeam, { width, height }: Size, isTurned: boolean) {
    this.team = team;
    this.size = { width, height };
    this.isTurned = isTurned;
    this.count = Math.ceil((width + 2 * MARGIN) / SLAB);
    this.bytes = WIDE * height * 4;
    this.at = team.take(this.count * this.bytes);
    this.rows = Array.from({ length: ROWS }, () => new Float32Array(this.count * SLAB + 2 * BESIDE));
  }

  /** Lays a picture in. @param scale what its values are multiplied by */
  lay(data: Float32Array, scale: number, border: Border): void {
    const { width, height } = this.size;
    for (let top = 0; top < height; top += ROWS) {
      const count = Math.min(ROWS, height - top);
      this.eachTexel(top, count, (row, x, at) => (row[x] = data[at]! * scale));
      for (let r = 0; r < count; r++) {
        const row = this.rows[r]!;
        for (let x = -MARGIN; x < 0; x++) row[FIRST + x] = row[FIRST + wrapped(x, width, border)]!;
        for (let x = width; x < width + MARGIN; x++) row[FIRST + x] = row[FIRST + wrapped(x, width, border)]!;
        for (let k = 0; k < this.count; k++) this.line(k, top + r).set(row.subarray(k * SLAB, k * SLAB + WIDE));
      }
    }
  }

  clear(): void {
    this.team.floats(this.at, (this.count * this.bytes) / 4).fill(0);
  }

  /** Adds to each texel all that was added to it here, wherever it lies more than once. */
  addTo(data: Float32Array, border: Border): void {
    const { width, height } = this.size;
    for (let top = 0; top < height; top += ROWS) {
      const count = Math.min(ROWS, height - top);
      for (let r = 0; r < count; r++) {
        const row = this.rows[r]!.fill(0);
        for (let k = 0; k < this.count; k++) {
          const own = this.line(k, top + r);
          for (let i = 0, at = k * SLAB; i < WIDE; i++, at++) row[at]! += own[i]!;
        }
        if (border === 'clamp') continue;
        // What was seen across a side belongs to the other.
        for (let x = -MARGIN; x < 0; x++) row[FIRST + wrapped(x, width, border)]! += row[FIRST + x]!;
        for (let x = width; x < width + MARGIN; x++) row[FIRST + wrapped(x, width, border)]! += row[FIRST + x]!;
      }
      this.eachTexel(top, count, (row, x, at) => (data[at]! += row[x]!));
    }
  }

  /** Goes through some rows. @param visit told the row of all slabs, where the texel lies in it, and where in the picture */
  private eachTexel(top: number, count: number, visit: (row: Float32Array, x: number, at: number) => void): void {
    const { width, height } = this.size;
    if (this.isTurned) {
      for (let x = 0; x < width; x++) {
        for (let r = 0; r < count; r++) visit(this.rows[r]!, FIRST + x, x * height + top + r);
      }
    } else {
      for (let r = 0; r < count; r++) {
        for (let x = 0; x < width; x++) visit(this.rows[r]!, FIRST + x, (top + r) * width + x);
      }
    }
  }

  private line(slab: number, y: number): Float32Array {
    return this.team.floats(this.at + slab * this.bytes + y * WIDE * 4, WIDE);
  }
}
