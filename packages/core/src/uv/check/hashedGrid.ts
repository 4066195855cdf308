/** Points to a bucket for each cell of a grid without end. */
export const cellHash = (x: number, y: number): number => {
  const hash = Math.imul(x, 0x9e3779b1) ^ Math.imul(y, 0x85ebca77);
  return hash ^ (hash >>> 15);
};

/**
 * Boxes sorted into the cells of a grid without end. Cells that share a bucket by chance only cost a look.
 */
export class HashedGrid {
  readonly cell: number;
  private readonly mask: number;
  private readonly starts: Uint32Array;
  private readonly entries: Uint32Array;

  /**
   * @param boxes min x, min y, max x, max y of each box
   * @param members the boxes that are in the grid; none should be much larger than a cell
   * @param cell side of a cell
   */
  constructor(boxes: Float64Array, members: Uint32Array, cell: number) {
    this.cell = cell;
    let buckets = 16;
    while (buckets < members.length * 2) buckets *= 2;
    this.mask = buckets - 1;
    this.starts = new Uint32Array(buckets + 1);
    const { starts } = this;
    this.eachPlace(boxes, members, (bucket) => starts[bucket + 1]!++);
    for (let b = 0; b < buckets; b++) starts[b + 1]! += starts[b]!;
    this.entries = new Uint32Array(starts[buckets]!);
    const next = starts.slice(0, buckets);
    const { entries } = this;
    this.eachPlace(boxes, members, (bucket, box) => (entries[next[bucket]!++] = box));
  }

  private eachPlace(boxes: Float64Array, members: Uint32Array, visit: (bucket: number, box: number) => void): void {
    const { cell, mask } = this;
    for (const box of members) {
      const x1 = Math.floor(boxes[box * 4 + 2]! / cell);
      const y1 = Math.floor(boxes[box * 4 + 3]! / cell);
      for (let x = Math.floor(boxes[box * 4]! / cell); x <= x1; x++) {
        for (let y = Math.floor(boxes[box * 4 + 1]! / cell); y <= y1; y++) visit(cellHash(x, y) & mask, box);
      }
    }
  }

  /** Visits each member whose box meets the given one, once; and perhaps some that lie near by. */
  each(boxes: Float64Array, box: number, visit: (other: number) => void): void {
    const { cell, mask, starts, entries } = this;
    const lowX = boxes[box * 4]!;
    const lowY = boxes[box * 4 + 1]!;
    const highX = boxes[box * 4 + 2]!;
    const highY = boxes[box * 4 + 3]!;
    const x1 = Math.floor(highX / cell);
    const y1 = Math.floor(highY / cell);
    for (let x = Math.floor(lowX / cell); x <= x1; x++) {
      for (let y = Math.floor(lowY / cell); y <= y1; y++) {
        const bucket = cellHash(x, y) & mask;
        for (let i = starts[bucket]!; i < starts[bucket + 1]!; i++) {
          const other = entries[i]!;
          // Two of its cells may share this bucket; they then stand side by side.
          if (i > starts[bucket]! && entries[i - 1] === other) continue;
          const otherX = boxes[other * 4]!;
          const otherY = boxes[other * 4 + 1]!;
          if (otherX > highX || otherY > highY || boxes[other * 4 + 2]! < lowX || boxes[other * 4 + 3]! < lowY)
            continue;
          // Both meet in several cells perhaps: the one with the corner where they begin to is the one that counts.
          if (Math.floor(Math.max(lowX, otherX) / cell) !== x || Math.floor(Math.max(lowY, otherY) / cell) !== y)
            continue;
          visit(other);
        }
      }
    }
  }
}

/**
 * Visits each pair of boxes that meet, once, and perhaps some that lie near by. Boxes are sorted into grids by their
 * size, so that a few large ones cost no more than a look at each other box: time grows with boxes and pairs alone.
 * @param boxes min x, min y, max x, max y of each box
 * @param least boxes no larger than this meet nothing
 * @param visit told the numbers of two boxes; false ends the search
 * @returns whether the search came to its end
 */
export function eachMeetingPair(boxes: Float64Array, least: number, visit: (a: number, b: number) => boolean): boolean {
  const levelOf = new Int16Array(boxes.length / 4).fill(NONE);
  for (let i = 0; i < levelOf.length; i++) {
    const extent = Math.max(boxes[i * 4 + 2]! - boxes[i * 4]!, boxes[i * 4 + 3]! - boxes[i * 4 + 1]!);
    if (extent > least) levelOf[i] = Math.ceil(Math.log2(extent) / 2);
  }
  const levels = [...new Set(levelOf)].filter((level) => level !== NONE).sort((a, b) => a - b);
  const smaller: Uint32Array[] = [];
  const search = { isOver: false };
  for (const level of levels) {
    const members = Uint32Array.from(membersOf(levelOf, level));
    const grid = new HashedGrid(boxes, members, 4 ** level);
    const look = (a: number, b: number): void => {
      if (!search.isOver && !visit(a, b)) search.isOver = true;
    };
    for (const box of members) {
      if (search.isOver) return false;
      grid.each(boxes, box, (other) => other > box && look(box, other));
    }
    for (const others of smaller) {
      for (const box of others) {
        if (search.isOver) return false;
        grid.each(boxes, box, (other) => look(box, other));
      }
    }
    smaller.push(members);
  }
  return !search.isOver;
}

const NONE = 32767;

function* membersOf(levelOf: Int16Array, level: number): Iterable<number> {
  for (let i = 0; i < levelOf.length; i++) if (levelOf[i] === level) yield i;
}
