import type { Border } from '../image/filter/resample.ts';
import type { Size } from '../math/size.ts';
import { wrapped } from '../image/sample.ts';
import type { KernelTeam } from '../kernel/kernelTeam.ts';

/** Columns of a slab, more at either side of it, and more at either side of the picture: mirrored by kernel/picture/occlusion.ts. */
const SLAB = 64;
const BESIDE = 4;
export const MARGIN = 8;
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
  /** Some rows as they lie in all slabs, one after the other, so many floats apart. */
  private readonly rows: Float32Array;
  private readonly stride: number;

  /** @param isTurned whether its rows are the columns of what is laid in and taken out */
  constructor(team: KernelTeam, { width, height }: Size, isTurned: boolean) {
    this.team = team;
    this.size = { width, height };
    this.isTurned = isTurned;
    this.count = Math.ceil((width + 2 * MARGIN) / SLAB);
    this.bytes = WIDE * height * 4;
    this.at = team.take(this.count * this.bytes);
    this.stride = this.count * SLAB + 2 * BESIDE;
    this.rows = new Float32Array(ROWS * this.stride);
  }

  /** Lays a picture in. @param scale what its values are multiplied by */
  lay(data: Float32Array, scale: number, border: Border): void {
    const { rows, stride } = this;
    const { width, height } = this.size;
    const slabs = this.floats();
    for (let top = 0; top < height; top += ROWS) {
      const count = Math.min(ROWS, height - top);
      if (this.isTurned) {
        for (let x = 0; x < width; x++) {
          const from = x * height + top;
          for (let r = 0, to = FIRST + x; r < count; r++, to += stride) rows[to] = data[from + r]! * scale;
        }
      } else {
        for (let r = 0; r < count; r++) {
          const [from, to] = [(top + r) * width, r * stride + FIRST];
          for (let x = 0; x < width; x++) rows[to + x] = data[from + x]! * scale;
        }
      }
      for (let r = 0; r < count; r++) {
        const first = r * stride + FIRST;
        for (let x = -MARGIN; x < 0; x++) rows[first + x] = rows[first + wrapped(x, width, border)]!;
        for (let x = width; x < width + MARGIN; x++) rows[first + x] = rows[first + wrapped(x, width, border)]!;
        for (let k = 0; k < this.count; k++) {
          const [from, to] = [r * stride + k * SLAB, (k * height + top + r) * WIDE];
          for (let i = 0; i < WIDE; i++) slabs[to + i] = rows[from + i]!;
        }
      }
    }
  }

  clear(): void {
    this.floats().fill(0);
  }

  /** Adds to each texel all that was added to it here, wherever it lies more than once. */
  addTo(data: Float32Array, border: Border): void {
    const { rows, stride } = this;
    const { width, height } = this.size;
    const slabs = this.floats();
    for (let top = 0; top < height; top += ROWS) {
      const count = Math.min(ROWS, height - top);
      rows.fill(0);
      for (let r = 0; r < count; r++) {
        for (let k = 0; k < this.count; k++) {
          const [from, to] = [(k * height + top + r) * WIDE, r * stride + k * SLAB];
          for (let i = 0; i < WIDE; i++) rows[to + i]! += slabs[from + i]!;
        }
        if (border === 'clamp') continue;
        // What was seen across a side belongs to the other.
        const first = r * stride + FIRST;
        for (let x = -MARGIN; x < 0; x++) rows[first + wrapped(x, width, border)]! += rows[first + x]!;
        for (let x = width; x < width + MARGIN; x++) rows[first + wrapped(x, width, border)]! += rows[first + x]!;
      }
      if (this.isTurned) {
        for (let x = 0; x < width; x++) {
          const to = x * height + top;
          for (let r = 0, from = FIRST + x; r < count; r++, from += stride) data[to + r]! += rows[from]!;
        }
      } else {
        for (let r = 0; r < count; r++) {
          const [from, to] = [r * stride + FIRST, (top + r) * width];
          for (let x = 0; x < width; x++) data[to + x]! += rows[from + x]!;
        }
      }
    }
  }

  /** All slabs, one after the other. Asked for anew each time, for the kernel's memory may grow. */
  private floats(): Float32Array {
    return this.team.floats(this.at, (this.count * this.bytes) / 4);
  }
}
