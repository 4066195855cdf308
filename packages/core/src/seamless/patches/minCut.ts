/** What is known of a texel before the cut: it keeps the old, takes the new, may do either, or is no part of it. */
export const CutSide = { either: 0, old: 1, fresh: 2, outside: 3 } as const;

/**
 * The least visible boundary between two pictures that lie on each other, as the minimum cut of a graph whose edges join
 * neighbouring texels (Kwatra, Schödl, Essa, Turk and Bobick, "Graphcut Textures", 2003). Found by Dinic's algorithm on
 * the grid itself.
 * @param difference how unlike both pictures are at each texel, whole numbers of 0 or more
 * @param side one of `CutSide` for each texel
 * @returns 1 where the new picture shows, 0 where the old one stays
 */
export function minCut(difference: Int32Array, side: Uint8Array, width: number, height: number): Uint8Array {
  const count = width * height;
  const step = Int32Array.of(1, -1, width, -width);
  // What can still flow from a texel to its right, left, lower and upper neighbour.
  const room = [new Int32Array(count), new Int32Array(count), new Int32Array(count), new Int32Array(count)] as const;
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const at = y * width + x;
      if (side[at] === CutSide.outside) continue;
      if (x + 1 < width && side[at + 1] !== CutSide.outside) {
        room[0][at] = room[1][at + 1] = 1 + difference[at]! + difference[at + 1]!;
      }
      if (y + 1 < height && side[at + width] !== CutSide.outside) {
        room[2][at] = room[3][at + width] = 1 + difference[at]! + difference[at + width]!;
      }
    }
  }
  const sources = shoreOf(side, width);
  const level = new Int32Array(count);
  const arc = new Uint8Array(count);
  const queue = new Int32Array(count);
  const path = new Int32Array(count + 1);
  for (let at = 0; at < count; at++) level[at] = side[at] === CutSide.old ? 0 : -1;
  let tail = 0;

  const layer = (): boolean => {
    // Those that were come to the last time, and no others, have a level.
    for (let i = sources.length; i < tail; i++) level[queue[i]!] = -1;
    tail = 0;
    for (const at of sources) queue[tail++] = at;
    let head = 0;
    let reached = false;
    while (head < tail) {
      const at = queue[head++]!;
      if (side[at] === CutSide.fresh) {
        reached = true;
        continue;
      }
      for (let k = 0; k < 4; k++) {
        if (room[k]![at]! === 0) continue;
        const next = at + step[k]!;
        if (level[next] !== -1) continue;
        level[next] = level[at]! + 1;
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
      const at = path[length]!;
      if (side[at] === CutSide.fresh) {
        let least = 0x7fffffff;
        let narrowest = 0;
        for (let i = 0; i < length; i++) {
          const free = room[arc[path[i]!]!]![path[i]!]!;
          if (free < least) {
            least = free;
            narrowest = i;
          }
        }
        for (let i = 0; i < length; i++) {
          const [node, k] = [path[i]!, arc[path[i]!]!];
          room[k]![node]! -= least;
          room[k ^ 1]![node + step[k]!]! += least;
        }
        length = narrowest;
        continue;
      }
      while (arc[at]! < 4) {
        const k = arc[at]!;
        if (room[k]![at]! > 0 && level[at + step[k]!] === level[at]! + 1) break;
        arc[at]!++;
      }
      if (arc[at]! < 4) {
        path[++length] = at + step[arc[at]!]!;
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
  // What can no longer be reached from the old side is on the new one.
  const fresh = new Uint8Array(count);
  for (let at = 0; at < count; at++) fresh[at] = level[at] === -1 && side[at] !== CutSide.outside ? 1 : 0;
  return fresh;
}

/** Texels that stay old beside some that may not: from them alone anything flows. */
function shoreOf(side: Uint8Array, width: number): number[] {
  const shore: number[] = [];
  for (let at = 0; at < side.length; at++) {
    if (side[at] !== CutSide.old) continue;
    const x = at % width;
    const isShore =
      (x > 0 && isOpen(side[at - 1])) ||
      (x + 1 < width && isOpen(side[at + 1])) ||
      isOpen(side[at - width]) ||
      isOpen(side[at + width]);
    if (isShore) shore.push(at);
  }
  return shore;
}

const isOpen = (what: number | undefined): boolean => what === CutSide.either || what === CutSide.fresh;
