import type { Border } from '../image/filter/resample.ts';
import type { Size } from '../math/size.ts';
import { wrapped } from '../image/sample.ts';
import type { KernelTeam } from '../kernel/kernelTeam.ts';

/** Columns of a slab, more at either side of it, and more at either side of the picture: mirrored by kernel/picture/occlusion.ts. */
const SLAB = 64;
const BESIDE = 4;
const MARGIN = 8;
const WIDE = SLAB + 2 * BESIDE;

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
  private readonly count: number;

  constructor(team: KernelTeam, { width, height }: Size) {
    this.team = team;
    this.size = { width, height };
    this.count = Math.ceil((width + 2 * MARGIN) / SLAB);
    this.bytes = WIDE * height * 4;
    this.at = team.take(this.count * this.bytes);
  }

  /** Lays a picture in. @param scale what its values are multiplied by */
  lay(data: Float32Array, scale: number, border: Border): void {
    const { width, height } = this.size;
    const row = new Float32Array(this.count * SLAB + 2 * BESIDE);
    const first = BESIDE + MARGIN;
    for (let y = 0; y < height; y++) {
      for (let x = 0; x < width; x++) row[first + x] = data[y * width + x]! * scale;
      for (let x = -MARGIN; x < 0; x++) row[first + x] = row[first + wrapped(x, width, border)]!;
      for (let x = width; x < width + MARGIN; x++) row[first + x] = row[first + wrapped(x, width, border)]!;
      for (let k = 0; k < this.count; k++) this.line(k, y).set(row.subarray(k * SLAB, k * SLAB + WIDE));
    }
  }

  clear(): void {
    this.team.floats(this.at, (this.count * this.bytes) / 4).fill(0);
  }

  /** The sum of all that was added to each texel, wherever it lies more than once. @param to told it */
  addUp(border: Border, to: Float32Array): void {
    const { width, height } = this.size;
    const row = new Float32Array(this.count * SLAB + 2 * BESIDE);
    const first = BESIDE + MARGIN;
    for (let y = 0; y < height; y++) {
      row.fill(0);
      for (let k = 0; k < this.count; k++) {
        const own = this.line(k, y);
        for (let i = 0, at = k * SLAB; i < WIDE; i++, at++) row[at]! += own[i]!;
      }
      if (border === 'repeat') {
        // What was seen across a side belongs to the other.
        for (let x = -MARGIN; x < 0; x++) row[first + wrapped(x, width, border)]! += row[first + x]!;
        for (let x = width; x < width + MARGIN; x++) row[first + wrapped(x, width, border)]! += row[first + x]!;
      }
      to.set(row.subarray(first, first + width), y * width);
    }
  }

  private line(slab: number, y: number): Float32Array {
    return this.team.floats(this.at + slab * this.bytes + y * WIDE * 4, WIDE);
  }
}
