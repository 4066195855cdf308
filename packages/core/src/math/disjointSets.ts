/** Sets of numbers that are joined step by step (union and find with path halving: Tarjan and van Leeuwen 1984). */
export class DisjointSets {
  private readonly parent: Uint32Array;

  /** @param representatives of each number to begin with, the number itself where it stands alone */
  constructor(representatives: Uint32Array) {
    this.parent = representatives.slice();
  }

  /**
   * So many numbers, each alone.
   * @example DisjointSets.of(3).find(2) // 2
   */
  static of(count: number): DisjointSets {
    return new DisjointSets(new Uint32Array(count).map((_, i) => i));
  }

  /** The number that stands for the set of another: the least of those that were joined. */
  find(number: number): number {
    const { parent } = this;
    let n = number;
    while (parent[n] !== n) {
      parent[n] = parent[parent[n]!]!;
      n = parent[n]!;
    }
    return n;
  }

  join(a: number, b: number): void {
    const [x, y] = [this.find(a), this.find(b)];
    if (x !== y) this.parent[Math.max(x, y)] = Math.min(x, y);
  }
}
