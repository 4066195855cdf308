import { wrapped } from '../../image/sample.ts';
import type { Size } from '../../math/size.ts';
import { CutSide } from '../cut/minCut.ts';

export type Point = readonly [x: number, y: number];

/** What was painted over with a brush and is to vanish. Places are shares of the tile, y downwards; lengths of its shorter side. */
export interface Spot {
  /** The way of the brush. */
  path: readonly Point[];
  /** Of the brush. */
  radius: number;
  /** How far beyond the brush the edge of the mend may run, as a share of the radius. */
  reach: number;
  /** About where the texture comes from that takes the place of the path's beginning; null for wherever it fits best. */
  from: Point | null;
}

/** The surroundings of a spot in texels of a tile: a window of it that may lie over its borders. */
export interface SpotWindow extends Size {
  left: number;
  top: number;
  /** One of `CutSide` for each texel: what the brush covered is new, what is out of reach stays old. */
  side: Uint8Array;
}

export const texelOf = ([x, y]: Point, { width, height }: Size): [x: number, y: number] => [x * width, y * height];

/** The window of a spot in a tile; no wider than that, however far the brush went. */
export function windowOf(spot: Spot, tile: Size): SpotWindow {
  const places = spot.path.map((point) => texelOf(point, tile));
  const radius = spot.radius * Math.min(tile.width, tile.height);
  const most = radius * (1 + spot.reach);
  const spanOf = (k: 0 | 1, size: number): [first: number, count: number] => {
    const values = places.map((place) => place[k]);
    const first = Math.floor(Math.min(...values) - most) - 2;
    return [first, Math.min(size, Math.ceil(Math.max(...values) + most) + 3 - first)];
  };
  const [left, width] = spanOf(0, tile.width);
  const [top, height] = spanOf(1, tile.height);
  const far = squaredDistances({ left, top, width, height }, places, most);
  const side = Uint8Array.from(far, (squared) =>
    squared <= radius * radius ? CutSide.fresh : squared < most * most ? CutSide.either : CutSide.old,
  );
  // What lies around the window stays as it is.
  for (let x = 0; x < width; x++) side[x] = side[(height - 1) * width + x] = CutSide.old;
  for (let y = 0; y < height; y++) side[y * width] = side[(y + 1) * width - 1] = CutSide.old;
  return { left, top, width, height, side };
}

/** Squares of how far texels are from a way, as far as they are no farther than `most`. */
function squaredDistances(
  { left, top, width, height }: Omit<SpotWindow, 'side'>,
  places: readonly Point[],
  most: number,
): Float32Array {
  const far = new Float32Array(width * height).fill(Infinity);
  places.forEach(([x1, y1], i) => {
    const [x0, y0] = places[Math.max(0, i - 1)]!;
    const [dx, dy] = [x1 - x0, y1 - y0];
    const squared = dx * dx + dy * dy;
    const [first, last] = [
      Math.max(0, Math.floor(Math.min(x0, x1) - most) - left),
      Math.min(width - 1, Math.ceil(Math.max(x0, x1) + most) - left),
    ];
    const bottom = Math.min(height - 1, Math.ceil(Math.max(y0, y1) + most) - top);
    for (let y = Math.max(0, Math.floor(Math.min(y0, y1) - most) - top); y <= bottom; y++) {
      const py = y + top + 0.5 - y0;
      for (let x = first; x <= last; x++) {
        const px = x + left + 0.5 - x0;
        const along = squared > 0 ? Math.max(0, Math.min(1, (px * dx + py * dy) / squared)) : 0;
        const [ox, oy] = [px - along * dx, py - along * dy];
        const at = y * width + x;
        far[at] = Math.min(far[at]!, ox * ox + oy * oy);
      }
    }
  });
  return far;
}

/** Goes through the texels of a window, moved by a way. @param visit told the texel's number in the tile, and in the window */
export function eachTexel(
  window: Omit<SpotWindow, 'side'>,
  tile: Size,
  [dx, dy]: Point,
  visit: (texel: number, at: number) => void,
): void {
  const columns = Int32Array.from({ length: window.width }, (_, x) =>
    wrapped(window.left + dx + x, tile.width, 'repeat'),
  );
  for (let y = 0, at = 0; y < window.height; y++) {
    const row = wrapped(window.top + dy + y, tile.height, 'repeat') * tile.width;
    for (let x = 0; x < window.width; x++) visit(row + columns[x]!, at++);
  }
}
