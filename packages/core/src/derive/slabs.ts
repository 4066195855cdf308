import type { Size } from '../math/size.ts';
import type { Border } from '../image/filter/resample.ts';
import type { KernelTeam } from '../kernel/kernelTeam.ts';

/** Columns of a slab, more at either side of it, and more at either side of the picture: mirrored by kernel/picture/slabs.ts. */
const SLAB = 64;
const BESIDE = 4;
export const MARGIN = 8;
const WIDE = SLAB + 2 * BESIDE;
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
  private readonly border: Border;
  private readonly isTurned: boolean;
  private readonly count: number;

  /**
   * @param size as it is walked through
   * @param isTurned whether its rows are the columns of what is laid in and taken out
   */
  constructor(team: KernelTeam, { width, height }: Size, border: Border, isTurned: boolean) {
    this.team = team;
    this.size = { width, height };
    this.border = border;
    this.isTurned = isTurned;
    this.count = Math.ceil((width + 2 * MARGIN) / SLAB);
    this.bytes = WIDE * height * 4;
    this.at = team.take(this.count * this.bytes);
  }

  /** Lays a picture in. @param picture in the kernel's memory @param scale what its values are multiplied by */
  lay(picture: number, scale: number): void {
    this.run('slabsOfRows', picture, scale);
  }

  clear(): void {
    this.team.floats(this.at, (this.count * this.bytes) / 4).fill(0);
  }

  /** Adds to each texel of a picture all that was added to it here, wherever it lies more than once. */
  addTo(picture: number): void {
    this.run('rowsOfSlabs', picture, 1);
  }

  private run(work: 'slabsOfRows' | 'rowsOfSlabs', picture: number, scale: number): void {
    const { width, height } = this.size;
    const [repeats, isTurned] = [this.border === 'repeat' ? 1 : 0, this.isTurned ? 1 : 0];
    const numbers = [picture, this.at, width, height, repeats, isTurned, this.count, scale];
    const room = ROWS * (this.count * SLAB + 2 * BESIDE) * 4 + 64;
    this.team.run(work, Math.ceil(height / ROWS), room, numbers);
  }
}
