import { setRun, type ShapeMask } from './shapeMask.ts';

/** A rectangle of cells that is filled with shapes, the lowest free place first. */
export class PackGrid {
  readonly width: number;
  readonly height: number;
  private readonly words: number;
  private readonly bits: Uint32Array;
  private readonly gap: number;

  /** @param gap cells that stay free between shapes */
  constructor(width: number, height: number, gap: number) {
    this.width = width;
    this.height = height;
    this.gap = gap;
    // A word to spare in each row, so that shifted masks may be read beyond the last cell.
    this.words = Math.ceil(width / 32) + 1;
    this.bits = new Uint32Array(this.words * height);
  }

  copy(): PackGrid {
    const grid = new PackGrid(this.width, this.height, this.gap);
    grid.bits.set(this.bits);
    return grid;
  }

  /** The lowest place where a shape fits, then the leftmost; null if there is none from a row on. */
  find(mask: ShapeMask, fromRow: number): { x: number; y: number } | null {
    const lastX = this.width - mask.width;
    const lastY = this.height - mask.height;
    // Where one place is taken, its neighbour most often is for the same row's sake: that is asked first.
    let suspect = 0;
    for (let y = fromRow; y <= lastY; y++) {
      for (let x = 0; x <= lastX; x++) {
        if (this.isTaken(mask, x, y, suspect)) continue;
        let row = 0;
        while (row < mask.height && !this.isTaken(mask, x, y, row)) row++;
        if (row === mask.height) return { x, y };
        suspect = row;
      }
    }
    return null;
  }

  /** Whether a row of a mask meets cells that are taken. */
  private isTaken(mask: ShapeMask, x: number, y: number, row: number): boolean {
    const { bits } = this;
    const shift = x & 31;
    const at = (y + row) * this.words + (x >>> 5);
    const from = row * mask.words;
    let carry = 0;
    for (let w = 0; w < mask.words; w++) {
      const word = mask.bits[from + w]!;
      if ((((word << shift) | carry) & bits[at + w]!) !== 0) return true;
      // A shift by 32 is a shift by nothing: two steps.
      carry = (word >>> 1) >>> (31 - shift);
    }
    return (carry & bits[at + mask.words]!) !== 0;
  }

  /** Takes the cells of a shape, and those around it within the gap; parts beyond the grid do not matter. */
  place(mask: ShapeMask, x: number, y: number): void {
    const { gap, width, height, words, bits } = this;
    for (let row = 0; row < mask.height; row++) {
      const runs = runsOf(mask, row);
      const y1 = Math.min(height - 1, y + row + gap);
      for (let to = Math.max(0, y + row - gap); to <= y1; to++) {
        for (let r = 0; r < runs.length; r += 2) {
          setRun(bits, to * words, Math.max(0, x + runs[r]! - gap), Math.min(width - 1, x + runs[r + 1]! + gap));
        }
      }
    }
  }
}

/** First and last cell of each run of a mask's row. */
function runsOf({ bits, words, width }: ShapeMask, row: number): number[] {
  const runs: number[] = [];
  let from = -1;
  for (let x = 0; x <= width; x++) {
    const isSet = x < width && ((bits[row * words + (x >>> 5)]! >>> (x & 31)) & 1) === 1;
    if (isSet && from < 0) from = x;
    if (!isSet && from >= 0) {
      runs.push(from, x - 1);
      from = -1;
    }
  }
  return runs;
}
