/** Which tree a node belongs to: that which grows from the sources, that which grows from the sinks, or none. */
const NONE = 0;
const FROM_SOURCES = 1;
const FROM_SINKS = 2;

/** In the place of an arc to a parent: of a source or a sink itself, and of a node that has lost its parent. */
const ROOT = 4;
const ORPHAN = 5;

/**
 * The maximum flow through a grid whose nodes have four arcs each. Two trees grow towards each other; where they meet
 * flow is sent, and what is cut off by it is adopted anew or set free (Boykov and Kolmogorov, "An Experimental Comparison
 * of Min-Cut/Max-Flow Algorithms for Energy Minimization in Vision", 2004).
 */
export class MaximumFlow {
  /** Of each node by its four arcs: which node lies there (−1 for none), and how much may still flow to it. */
  private readonly neighbours: Int32Array;
  private readonly room: Int32Array;
  private readonly tree: Uint8Array;
  /** The arc of each node to its parent. */
  private readonly parent: Uint8Array;
  /** How many steps it is to the root, and when that was last known. */
  private readonly distance: Int32Array;
  private readonly known: Int32Array;
  private time = 0;
  /** Nodes whose neighbours are to be looked at, in a ring. */
  private readonly active: Int32Array;
  private readonly isActive: Uint8Array;
  private first = 0;
  private count = 0;
  private readonly orphans: number[] = [];

  /** @param neighbours, room four for each node; the arc back is the one beside it (0 and 1, 2 and 3). Room is used up. */
  constructor(neighbours: Int32Array, room: Int32Array) {
    const nodes = neighbours.length / 4;
    this.neighbours = neighbours;
    this.room = room;
    this.tree = new Uint8Array(nodes);
    this.parent = new Uint8Array(nodes).fill(ORPHAN);
    this.distance = new Int32Array(nodes);
    this.known = new Int32Array(nodes);
    this.active = new Int32Array(nodes);
    this.isActive = new Uint8Array(nodes);
  }

  addSource(node: number): void {
    this.addRoot(node, FROM_SOURCES);
  }

  addSink(node: number): void {
    this.addRoot(node, FROM_SINKS);
  }

  /** @returns 1 for each node that can still be reached from a source when as much flows as can */
  reached(): Uint8Array {
    for (;;) {
      const node = this.nextActive();
      if (node < 0) break;
      const arc = this.grow(node);
      if (arc < 0) {
        this.isActive[node] = 0;
        this.first = this.first + 1 === this.active.length ? 0 : this.first + 1;
        this.count--;
        continue;
      }
      this.time++;
      this.send(arc);
      for (const node of this.orphans) this.parent[node] = ORPHAN;
      while (this.orphans.length > 0) this.adopt(this.orphans.pop()!);
    }
    return this.tree.map((tree) => (tree === FROM_SOURCES ? 1 : 0));
  }

  private addRoot(node: number, tree: number): void {
    this.tree[node] = tree;
    this.parent[node] = ROOT;
    this.activate(node);
  }

  private activate(node: number): void {
    if (this.isActive[node] === 1) return;
    this.isActive[node] = 1;
    const place = this.first + this.count++;
    this.active[place < this.active.length ? place : place - this.active.length] = node;
  }

  private nextActive(): number {
    return this.count > 0 ? this.active[this.first]! : -1;
  }

  /** Takes free neighbours into the tree of a node. @returns an arc from the sources' tree to that of the sinks, or −1 */
  private grow(node: number): number {
    const { tree, neighbours, room, parent, known, distance } = this;
    const own = tree[node]!;
    if (own === NONE) return -1;
    const isSource = own === FROM_SOURCES;
    for (let k = 0; k < 4; k++) {
      const arc = node * 4 + k;
      const other = neighbours[arc]!;
      if (other < 0) continue;
      const back = other * 4 + (k ^ 1);
      if (room[isSource ? arc : back] === 0) continue;
      if (tree[other] === NONE) {
        tree[other] = own;
        parent[other] = k ^ 1;
        known[other] = known[node]!;
        distance[other] = distance[node]! + 1;
        this.activate(other);
      } else if (tree[other] !== own) return isSource ? arc : back;
      else if (known[other]! <= known[node]! && distance[other]! > distance[node]! + 1 && parent[other] !== ROOT) {
        // A shorter way to the root.
        parent[other] = k ^ 1;
        known[other] = known[node]!;
        distance[other] = distance[node]! + 1;
      }
    }
    return -1;
  }

  /** Sends as much as fits from a source to a sink by an arc between both trees. */
  private send(arc: number): void {
    const { neighbours, room, parent } = this;
    const from = arc >> 2;
    const to = neighbours[arc]!;
    let least = room[arc]!;
    for (let node = from; parent[node] !== ROOT;) {
      const up = node * 4 + parent[node]!;
      const next = neighbours[up]!;
      least = Math.min(least, room[next * 4 + (parent[node]! ^ 1)]!);
      node = next;
    }
    for (let node = to; parent[node] !== ROOT; node = neighbours[node * 4 + parent[node]!]!) {
      least = Math.min(least, room[node * 4 + parent[node]!]!);
    }
    room[arc]! -= least;
    room[to * 4 + ((arc & 3) ^ 1)]! += least;
    for (let node = from; parent[node] !== ROOT;) {
      const up = node * 4 + parent[node]!;
      const next = neighbours[up]!;
      const down = next * 4 + (parent[node]! ^ 1);
      room[up]! += least;
      room[down]! -= least;
      if (room[down] === 0) this.orphans.push(node);
      node = next;
    }
    for (let node = to; parent[node] !== ROOT;) {
      const up = node * 4 + parent[node]!;
      const next = neighbours[up]!;
      room[up]! -= least;
      room[next * 4 + (parent[node]! ^ 1)]! += least;
      if (room[up] === 0) this.orphans.push(node);
      node = next;
    }
  }

  /** Finds a new parent for a node that has lost its own, or sets it free and its children loose. */
  private adopt(node: number): void {
    const { tree, neighbours, room, parent, distance, known, time } = this;
    const own = tree[node]!;
    const isSource = own === FROM_SOURCES;
    let [best, nearest] = [-1, Infinity];
    for (let k = 0; k < 4; k++) {
      const arc = node * 4 + k;
      const other = neighbours[arc]!;
      if (other < 0 || tree[other] !== own) continue;
      if (room[isSource ? other * 4 + (k ^ 1) : arc] === 0) continue;
      const steps = this.stepsToRoot(other);
      if (steps >= nearest) continue;
      nearest = steps;
      best = k;
    }
    if (best >= 0) {
      parent[node] = best;
      known[node] = time;
      distance[node] = nearest + 1;
      return;
    }
    for (let k = 0; k < 4; k++) {
      const arc = node * 4 + k;
      const other = neighbours[arc]!;
      if (other < 0 || tree[other] !== own) continue;
      if (room[isSource ? other * 4 + (k ^ 1) : arc]! > 0) this.activate(other);
      if (parent[other] === (k ^ 1)) {
        parent[other] = ORPHAN;
        this.orphans.push(other);
      }
    }
    tree[node] = NONE;
  }

  /** Steps from a node to its root; infinite if it hangs on an orphan. */
  private stepsToRoot(node: number): number {
    const { neighbours, parent, distance, known, time } = this;
    let steps = 0;
    for (let at = node; ; steps++) {
      if (known[at] === time) {
        steps += distance[at]!;
        break;
      }
      const arc = parent[at]!;
      if (arc === ORPHAN) return Infinity;
      if (arc === ROOT) {
        known[at] = time;
        distance[at] = 0;
        break;
      }
      at = neighbours[at * 4 + arc]!;
    }
    // So that it is not asked for again.
    let left = steps;
    for (let at = node; known[at] !== time; at = neighbours[at * 4 + parent[at]!]!) {
      known[at] = time;
      distance[at] = left--;
    }
    return steps;
  }
}
