/**
 * The horizon of each point of a line of heights, looking back along it no farther than a reach: found from upper convex
 * hulls, on which the tangent from a point touches its horizon (after Timonen and Westerholm, "Scalable Height Field
 * Self-Shadowing", 2010). The reach is kept exactly: what lies behind a point is a piece of the stretch before and a piece
 * of its own, and the hull of each is at hand. The time hardly depends on the reach.
 */
export class LineHorizons {
  /** Hull of the stretch before, its nearest point first, and of the point's own stretch, its farthest first. */
  private readonly before: Int32Array;
  private readonly own: Int32Array;
  /** Of each point of the stretch before: how many the hull had, where it was put, and what it took the place of. */
  private readonly sizes: Int32Array;
  private readonly places: Int32Array;
  private readonly covered: Int32Array;
  private readonly reach: number;

  /** @param reach points that may lie between a point and its horizon, that one counted; 1 or more */
  constructor(reach: number) {
    this.reach = reach;
    this.before = new Int32Array(reach);
    this.own = new Int32Array(reach);
    this.sizes = new Int32Array(reach);
    this.places = new Int32Array(reach);
    this.covered = new Int32Array(reach);
  }

  /**
   * @param line heights, the first `reach` of them only looked at
   * @param count points after those, whose horizons are wanted
   * @param out rise of the horizon in height for each step, for each of them
   */
  find(line: Float64Array, count: number, out: Float64Array): void {
    const { reach, before, own } = this;
    for (let start = reach; start < reach + count; start += reach) {
      let size = this.hullBefore(line, start);
      let top = 0;
      const end = Math.min(start + reach, reach + count);
      for (let p = start; p < end; p++) {
        const height = line[p]!;
        // The farthest point of the stretch before has come out of reach.
        if (p > start) {
          const gone = p - start - 1;
          before[this.places[gone]!] = this.covered[gone]!;
          size = this.sizes[gone]!;
        }
        let rise = -Infinity;
        if (size > 0) {
          const q = tangent(line, before, size, p, height);
          rise = (line[q]! - height) / (p - q);
        }
        while (top > 1) {
          const [a, b] = [own[top - 1]!, own[top - 2]!];
          if ((line[b]! - height) * (p - a) < (line[a]! - height) * (p - b)) break;
          top--;
        }
        if (top > 0) {
          const q = own[top - 1]!;
          const near = (line[q]! - height) / (p - q);
          if (near > rise) rise = near;
        }
        own[top++] = p;
        out[p - reach] = rise;
      }
    }
  }

  /** The hull of the stretch before a point, built from the nearest to the farthest. @returns its size */
  private hullBefore(line: Float64Array, start: number): number {
    const { reach, before, sizes, places, covered } = this;
    let size = 0;
    for (let i = start - 1, k = reach - 1; k >= 0; i--, k--) {
      const height = line[i]!;
      sizes[k] = size;
      while (size > 1) {
        const [a, b] = [before[size - 1]!, before[size - 2]!];
        if ((line[b]! - height) * (a - i) < (line[a]! - height) * (b - i)) break;
        size--;
      }
      places[k] = size;
      covered[k] = before[size]!;
      before[size++] = i;
    }
    return size;
  }
}

/** The point of a hull that rises most from another: rises grow along it up to there, and fall behind. */
function tangent(line: Float64Array, hull: Int32Array, size: number, p: number, height: number): number {
  let [low, high] = [0, size - 1];
  while (low < high) {
    const middle = (low + high) >> 1;
    const [a, b] = [hull[middle]!, hull[middle + 1]!];
    if ((line[b]! - height) * (p - a) > (line[a]! - height) * (p - b)) low = middle + 1;
    else high = middle;
  }
  return hull[low]!;
}
