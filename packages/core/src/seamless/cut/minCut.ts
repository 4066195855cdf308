import type { CutCost } from './cutCost.ts';
import { MaximumFlow } from './maximumFlow.ts';

/** What is known of a texel before the cut: it keeps the old, takes the new, may do either, or is no part of it. */
export const CutSide = { either: 0, old: 1, fresh: 2, outside: 3 } as const;

/**
 * The least visible boundary between two pictures that lie on each other, as the minimum cut of a graph whose edges join
 * neighbouring texels (Kwatra, Schödl, Essa, Turk and Bobick, "Graphcut Textures", 2003).
 * @param cost looked at only where the cut may run, and beside that
 * @param side one of `CutSide` for each texel
 * @param repeats whether the first row lies below the last
 * @returns 1 where the new picture shows, 0 where the old one stays
 */
export function minCut(cost: CutCost, side: Uint8Array, width: number, height: number, repeats = false): Uint8Array {
  const graph = graphOf(cost, side, width, height, repeats);
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

function graphOf(cost: CutCost, side: Uint8Array, width: number, height: number, repeats: boolean): Graph {
  const texelCount = width * height;
  const isLoop = repeats && height > 2;
  /** The neighbour to the right (0), left (1), below (2) or above (3); −1 for none. */
  const besideOf = (at: number, k: number): number => {
    if (k === 0) return (at + 1) % width > 0 ? at + 1 : -1;
    if (k === 1) return at % width > 0 ? at - 1 : -1;
    if (k === 2) return at + width < texelCount ? at + width : isLoop ? at + width - texelCount : -1;
    return at >= width ? at - width : isLoop ? at - width + texelCount : -1;
  };
  const nodes = new Int32Array(texelCount);
  const found: number[] = [];
  const add = (at: number): void => {
    if (nodes[at] !== 0) return;
    found.push(at);
    nodes[at] = found.length;
  };
  for (let at = side.indexOf(CutSide.either); at >= 0; at = side.indexOf(CutSide.either, at + 1)) {
    add(at);
    for (let k = 0; k < 4; k++) {
      const beside = besideOf(at, k);
      if (beside >= 0 && side[beside] !== CutSide.outside) add(beside);
    }
  }
  const texels = Int32Array.from(found);
  const neighbours = new Int32Array(texels.length * 4).fill(-1);
  const room = new Int32Array(texels.length * 4);
  for (let node = 0; node < texels.length; node++) {
    const at = texels[node]!;
    for (let k = 0; k < 4; k++) {
      const beside = besideOf(at, k);
      // Between two that are settled nothing is to be found.
      if (beside < 0 || nodes[beside] === 0 || (side[at] !== CutSide.either && side[beside] !== CutSide.either))
        continue;
      neighbours[node * 4 + k] = nodes[beside]! - 1;
      room[node * 4 + k] = 1 + (k < 2 ? cost.right : cost.below)[k % 2 === 0 ? at : beside]!;
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
