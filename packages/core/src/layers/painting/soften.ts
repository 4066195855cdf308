import { blur } from '../../image/filter/blur.ts';
import { texelSteps } from '../surface/texelSteps.ts';
import { blurOf, type RetouchedTile, type Worked } from './retouchedTiles.ts';
import type { Stroke } from './stroke.ts';
import type { TexelGrid } from './texelGrid.ts';

/**
 * Blurs what lies under a stroke, island by island. About an island lies in the picture that is blurred what lies about it
 * on the surface, wherever that is in the layout: so nothing of islands that are neighbours in the layout alone gets in, and
 * both sides of a seam are blurred with each other.
 */
export function soften(
  stroke: Stroke,
  tiles: readonly RetouchedTile[],
  worked: readonly Worked[],
  grid: TexelGrid,
): void {
  const sigma = blurOf(stroke, tiles);
  const islands = islandsUnder(grid, tiles);
  const before = worked.map(({ planes }) => planes.map((plane) => plane.slice()));
  for (const { of, texels } of islands) {
    const { tile, covered } = tiles[of]!;
    const window = windowAround(texels, grid, covered, tile.size.width, Math.ceil(3 * sigma) + 2);
    if (!window) continue;
    const { left, top, width, height } = window;
    const own = new Int32Array(width * height).fill(-1);
    for (const i of texels) {
      const [x, y] = [grid.at[i]! % tile.size.width, Math.floor(grid.at[i]! / tile.size.width)];
      if (x >= left && y >= top && x < left + width && y < top + height) own[(y - top) * width + x - left] = i;
    }
    const nearest = nearestOwn(own, width, height);
    worked.forEach(({ planes, width: channels }, w) => {
      const data = beyond(own, nearest, { grid, tile, width, planes: before[w]!, channels });
      const blurred = blur({ width, height, channels, data }, sigma, 'clamp').data;
      own.forEach((i, p) => {
        const share = i < 0 ? 0 : covered[grid.at[i]!]!;
        const at = i < 0 ? 0 : grid.at[i]! * channels;
        const plane = planes[of]!;
        if (share > 0)
          for (let k = 0; k < channels; k++) plane[at + k]! += (blurred[p * channels + k]! - plane[at + k]!) * share;
      });
    });
  }
}

interface IslandTexels {
  /** The tile, by its number among those that are worked on. */
  of: number;
  /** Of the grid. */
  texels: number[];
}

/** The texels of each island that a stroke covers some of. */
function islandsUnder(grid: TexelGrid, tiles: readonly RetouchedTile[]): IslandTexels[] {
  const { islands } = tiles[0]!.tile.surface;
  const found = new Map<number, IslandTexels & { isCovered: boolean }>();
  for (let i = 0; i < grid.own; i++) {
    const of = grid.of[i]!;
    const name = islands[grid.triangles[i]!]! * tiles.length + of;
    const island = found.get(name) ?? { of, texels: [], isCovered: false };
    found.set(name, island);
    island.texels.push(i);
    island.isCovered ||= tiles[of]!.covered[grid.at[i]!]! > 0;
  }
  return [...found.values()].filter(({ isCovered }) => isCovered);
}

/** The part of the map about those texels that are covered. */
function windowAround(
  texels: readonly number[],
  grid: TexelGrid,
  covered: Float32Array,
  mapWidth: number,
  margin: number,
): { left: number; top: number; width: number; height: number } | null {
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const i of texels) {
    if (covered[grid.at[i]!] === 0) continue;
    const [x, y] = [grid.at[i]! % mapWidth, Math.floor(grid.at[i]! / mapWidth)];
    [left, right] = [Math.min(left, x), Math.max(right, x)];
    [top, bottom] = [Math.min(top, y), Math.max(bottom, y)];
  }
  if (left > right) return null;
  return {
    ...{ left: left - margin, top: top - margin },
    ...{ width: right - left + 1 + 2 * margin, height: bottom - top + 1 + 2 * margin },
  };
}

/** For each texel of a window the nearest that the island has, as they spread from neighbour to neighbour. */
function nearestOwn(own: Int32Array, width: number, height: number): Int32Array {
  const nearest = new Int32Array(own.length).fill(-1);
  const queue = new Int32Array(own.length);
  let end = 0;
  own.forEach((i, p) => {
    if (i >= 0) {
      nearest[p] = p;
      queue[end++] = p;
    }
  });
  for (let next = 0; next < end; next++) {
    const p = queue[next]!;
    const [x, y] = [p % width, Math.floor(p / width)];
    const visit = (q: number): void => {
      if (nearest[q]! >= 0) return;
      nearest[q] = nearest[p]!;
      queue[end++] = q;
    };
    if (x > 0) visit(p - 1);
    if (x + 1 < width) visit(p + 1);
    if (y > 0) visit(p - width);
    if (y + 1 < height) visit(p + width);
  }
  return nearest;
}

/** The values of an island's texels in a window, and about them what lies there on the surface. */
function beyond(
  own: Int32Array,
  nearest: Int32Array,
  at: {
    grid: TexelGrid;
    tile: RetouchedTile['tile'];
    width: number;
    planes: readonly Float32Array[];
    channels: number;
  },
): Float32Array {
  const { grid, tile, width, planes, channels } = at;
  const data = new Float32Array(own.length * channels);
  const [right, up, out] = [new Float64Array(3), new Float64Array(3), new Float64Array(3)];
  let triangle = -1;
  own.forEach((i, p) => {
    const near = nearest[p]!;
    if (near < 0) return;
    const from = own[near]!;
    const dx = (p % width) - (near % width);
    const dy = Math.floor(near / width) - Math.floor(p / width);
    if (i < 0 && grid.triangles[from] !== triangle) {
      triangle = grid.triangles[from]!;
      if (!texelSteps(tile, triangle, right, up)) right.fill(up.fill(0)[0]!);
    }
    const isFound =
      i < 0 &&
      grid.sample(
        grid.x[from]! + right[0]! * dx + up[0]! * dy,
        grid.y[from]! + right[1]! * dx + up[1]! * dy,
        grid.z[from]! + right[2]! * dx + up[2]! * dy,
        planes,
        channels,
        out,
      );
    for (let k = 0; k < channels; k++) {
      data[p * channels + k] = isFound ? out[k]! : planes[grid.of[from]!]![grid.at[from]! * channels + k]!;
    }
  });
  return data;
}
