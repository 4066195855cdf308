import { MaximumFlow } from './maximumFlow.ts';

/** What is known of a texel before the cut: it keeps the old, takes the new, may do either, or is no part of it. */
export const CutSide = { either: 0, old: 1, fresh: 2, outside: 3 } as const;

/**
 * The least visible boundary between two pictures that lie on each other, as the minimum cut of a graph whose edges join
 * neighbouring texels (Kwatra, Schödl, Essa, Turk and Bobick, "Graphcut Textures", 2003).
 * @param difference how unlike both pictures are at each texel, whole numbers of 0 or more; looked at only where the cut
 * may run, and beside that
 * @param side one of `CutSide` for each texel
 * @returns 1 where the new picture shows, 0 where the old one stays
 */
export function minCut(difference: Int32Array, side: Uint8Array, width: number, height: number): Uint8Array {
  const graph = graphOf(difference, side, width, height);
  const { texels } = graph;
  const isOld = reachedByOld(graph, side);
  const fresh = new Uint8Array(width * height);
  for (let at = 0; at < fresh.length; at++) fresh[at] = side[at] === CutSide.fresh ? 1 : 0;
  // What can no longer be reached from the old side is on the new one.
  texels.forEach((at, node) => {
    if (side[at] === CutSide.either) fresh[at] = isOld[node] === 1 ? 0 : 1;
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
  for (let at = side.indexOf(CutSide.either); at >= 0; at = side.indexOf(CutSide.either, at + 1)) {
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

/** 1 for what can still be reached from old texels when as much flows from them to new ones as can. */
function reachedByOld(graph: Graph, side: Uint8Array): Uint8Array {
  const flow = new MaximumFlow(graph.neighbours, graph.room);
  graph.texels.forEach((at, node) => {
    if (side[at] === CutSide.old) flow.addSource(node);
    else if (side[at] === CutSide.fresh) flow.addSink(node);
  });
  return flow.reached();
}
