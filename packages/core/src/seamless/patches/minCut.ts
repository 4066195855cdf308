/** What is known of a texel before the cut: it keeps the old, takes the new, may do either, or is no part of it. */
export const CutSide = { either: 0, old: 1, fresh: 2, outside: 3 } as const;

/**
 * The least visible boundary between two pictures that lie on each other, as the minimum cut of a graph whose edges join
 * neighbouring texels (Kwatra, Schödl, Essa, Turk and Bobick, "Graphcut Textures", 2003). Found by Dinic's algorithm.
 * @param difference how unlike both pictures are at each texel, whole numbers of 0 or more; looked at only where the cut
 * may run, and beside that
 * @param side one of `CutSide` for each texel
 * @returns 1 where the new picture shows, 0 where the old one stays
 */
export function minCut(difference: Int32Array, side: Uint8Array, width: number, height: number): Uint8Array {
  const graph = graphOf(difference, side, width, height);
  const { texels } = graph;
  const level = maximumFlow(graph, side);
  const fresh = new Uint8Array(width * height);
  for (let at = 0; at < fresh.length; at++) fresh[at] = side[at] === CutSide.fresh ? 1 : 0;
  // What can no longer be reached from the old side is on the new one.
  texels.forEach((at, node) => {
    if (side[at] === CutSide.either) fresh[at] = level[node] === -1 ? 1 : 0;
  });
  return fresh;
}

/** The texels that may do either, and those beside them. */
interface Graph {
  texels: Int32Array;
  /** Of each texel its right, left, lower and upper neighbour among these; −1 for none. */
  neighbours: Int32Array;
  /** What can flow to each of them. */
  room: Int32Array;
}

function graphOf(difference: Int32Array, side: Uint8Array, width: number, height: number): Graph {
  const steps = [1, -1, width, -width] as const;
  const hasNeighbour = (at: number, k: number): boolean => {
    if (k === 0) return at % width < width - 1;
    if (k === 1) return at % width > 0;
    return k === 2 ? at < width * (height - 1) : at >= width;
  };
  const nodes = new Int32Array(width * height);
  const found: number[] = [];
  const add = (at: number): void => {
    if (nodes[at] !== 0) return;
    found.push(at);
    nodes[at] = found.length;
  };
  for (let at = 0; at < side.length; at++) {
    if (side[at] !== CutSide.either) continue;
    add(at);
    for (let k = 0; k < 4; k++) {
      if (hasNeighbour(at, k) && side[at + steps[k]!] !== CutSide.outside) add(at + steps[k]!);
    }
  }
  const texels = Int32Array.from(found);
  const neighbours = new Int32Array(texels.length * 4).fill(-1);
  const room = new Int32Array(texels.length * 4);
  for (let node = 0; node < texels.length; node++) {
    const at = texels[node]!;
    for (let k = 0; k < 4; k++) {
      if (!hasNeighbour(at, k)) continue;
      const beside = at + steps[k]!;
      // Between two that are settled nothing is to be found.
      if (nodes[beside] === 0 || (side[at] !== CutSide.either && side[beside] !== CutSide.either)) continue;
      neighbours[node * 4 + k] = nodes[beside]! - 1;
      room[node * 4 + k] = 1 + difference[at]! + difference[beside]!;
    }
  }
  return { texels, neighbours, room };
}

/**
 * Lets as much flow from old texels to new ones as can; what room is left is told in `room`.
 * @returns for each texel how many steps it is from an old one through what still has room, −1 if there is no way
 */
function maximumFlow({ texels, neighbours, room }: Graph, side: Uint8Array): Int32Array {
  const count = texels.length;
  const isSink = Uint8Array.from(texels, (at) => (side[at] === CutSide.fresh ? 1 : 0));
  const sources = Array.from(texels.keys()).filter((node) => side[texels[node]!] === CutSide.old);
  const level = new Int32Array(count).fill(-1);
  const arc = new Uint8Array(count);
  const queue = new Int32Array(count);
  const path = new Int32Array(count + 1);
  for (const node of sources) level[node] = 0;
  let tail = 0;

  const layer = (): boolean => {
    // Those that were come to the last time, and no others, have a level.
    for (let i = sources.length; i < tail; i++) level[queue[i]!] = -1;
    tail = 0;
    for (const node of sources) queue[tail++] = node;
    let head = 0;
    let reached = false;
    while (head < tail) {
      const node = queue[head++]!;
      if (isSink[node] === 1) {
        reached = true;
        continue;
      }
      for (let k = node * 4; k < node * 4 + 4; k++) {
        if (room[k] === 0) continue;
        const next = neighbours[k]!;
        if (level[next] !== -1) continue;
        level[next] = level[node]! + 1;
        queue[tail++] = next;
      }
    }
    return reached;
  };

  /** Sends as much as fits from one source along the layers, path by path. */
  const flood = (source: number): void => {
    let length = 0;
    path[0] = source;
    for (;;) {
      const node = path[length]!;
      if (isSink[node] === 1) {
        let least = 0x7fffffff;
        let narrowest = 0;
        for (let i = 0; i < length; i++) {
          const free = room[path[i]! * 4 + arc[path[i]!]!]!;
          if (free < least) {
            least = free;
            narrowest = i;
          }
        }
        for (let i = 0; i < length; i++) {
          const k = arc[path[i]!]!;
          room[path[i]! * 4 + k]! -= least;
          room[path[i + 1]! * 4 + (k ^ 1)]! += least;
        }
        length = narrowest;
        continue;
      }
      while (arc[node]! < 4) {
        const k = node * 4 + arc[node]!;
        if (room[k]! > 0 && level[neighbours[k]!] === level[node]! + 1) break;
        arc[node]!++;
      }
      if (arc[node]! < 4) {
        path[++length] = neighbours[node * 4 + arc[node]!]!;
        continue;
      }
      if (length === 0) return;
      length--;
      arc[path[length]!]!++;
    }
  };

  while (layer()) {
    for (let i = 0; i < tail; i++) arc[queue[i]!] = 0;
    for (const source of sources) flood(source);
  }
  return level;
}
