import type { LayeredSurface, LayeredTile } from '../surface/layeredSurface.ts';
import { nearestTriangles } from '../surface/zBuffer.ts';

/** Corners of a polygon, x and y of each from 0 to 1, from the upper left; closed by itself. */
export type Polygon = readonly number[];

/** Pixels along the side of the view that faces are told apart in. */
const SIDE = 1024;
/** A face that is smaller than a pixel is seen if it lies no deeper than this share behind what its pixel shows. */
const BEHIND = 0.005;

/**
 * The faces that are seen within a polygon of a view: at least half of what is seen of each. What lies behind others is left
 * out, and so is what faces away.
 * @param view rows that turn a place (x, y, z, 1) in millimetres into u · w, v · w and w, v upwards, 0 to 1 over the view
 * @returns 1 for each face that is picked
 */
export function facesInView(
  { receiver: { positions, indices } }: Pick<LayeredSurface, 'receiver'>,
  view: readonly number[],
  polygon: Polygon,
): Uint8Array {
  const seen = new Float32Array(positions.length);
  for (let i = 0; i < positions.length; i += 3) {
    const row = (r: number): number =>
      view[r]! * positions[i]! + view[r + 1]! * positions[i + 1]! + view[r + 2]! * positions[i + 2]! + view[r + 3]!;
    const w = row(8);
    seen[i] = w > 0 ? (row(0) / w) * SIDE : NaN;
    seen[i + 1] = w > 0 ? (1 - row(4) / w) * SIDE : NaN;
    // The reciprocal of the distance is linear over the view.
    seen[i + 2] = w > 0 ? 1 / w : NaN;
  }
  const within = pixelsWithin(polygon);
  const { depth, triangles } = nearestTriangles(seen, indices, SIDE);
  const count = indices.length / 3;
  const all = new Uint32Array(count);
  const inside = new Uint32Array(count);
  for (let pixel = 0; pixel < depth.length; pixel++) {
    if (depth[pixel] === -Infinity) continue;
    all[triangles[pixel]!]!++;
    if (within[pixel]) inside[triangles[pixel]!]!++;
  }
  const picked = new Uint8Array(count);
  for (let t = 0; t < count; t++) {
    const corner = (c: number, k: number): number => seen[indices[t * 3 + c]! * 3 + k]!;
    const towards =
      (corner(1, 0) - corner(0, 0)) * (corner(2, 1) - corner(0, 1)) -
      (corner(1, 1) - corner(0, 1)) * (corner(2, 0) - corner(0, 0));
    // Anticlockwise in space is clockwise where y goes down.
    if (!(towards < 0)) continue;
    if (all[t]! > 0) picked[t] = inside[t]! * 2 >= all[t]! ? 1 : 0;
    else {
      const middle = (k: number): number => (corner(0, k) + corner(1, k) + corner(2, k)) / 3;
      const pixel = pixelAt(middle(0), middle(1));
      picked[t] = pixel >= 0 && within[pixel] && middle(2) >= depth[pixel]! * (1 - BEHIND) ? 1 : 0;
    }
  }
  return picked;
}

/** The faces whose middles lie within a polygon of a tile's map. @returns 1 for each face that is picked */
export function facesInMap({ uvs, surface }: LayeredTile, polygon: Polygon): Uint8Array {
  const { indices } = surface.receiver;
  const within = pixelsWithin(polygon);
  return Uint8Array.from({ length: indices.length / 3 }, (_, t) => {
    const middle = (k: number): number => [0, 1, 2].reduce((sum, c) => sum + uvs[indices[t * 3 + c]! * 2 + k]! / 3, 0);
    const pixel = pixelAt(middle(0) * SIDE, (1 - middle(1)) * SIDE);
    return pixel >= 0 ? within[pixel]! : 0;
  });
}

const pixelAt = (x: number, y: number): number =>
  x >= 0 && y >= 0 && x < SIDE && y < SIDE ? Math.floor(y) * SIDE + Math.floor(x) : -1;

/** 1 for each pixel whose middle lies within a polygon, by the even-odd rule. */
function pixelsWithin(polygon: Polygon): Uint8Array {
  const within = new Uint8Array(SIDE * SIDE);
  const corners = polygon.length / 2;
  for (let row = 0; row < SIDE; row++) {
    const y = (row + 0.5) / SIDE;
    const crossings: number[] = [];
    for (let i = 0; i < corners; i++) {
      const next = (i + 1) % corners;
      const [y0, y1] = [polygon[i * 2 + 1]!, polygon[next * 2 + 1]!];
      if (y0 <= y === y1 <= y) continue;
      const [x0, x1] = [polygon[i * 2]!, polygon[next * 2]!];
      crossings.push(x0 + ((y - y0) / (y1 - y0)) * (x1 - x0));
    }
    crossings.sort((a, b) => a - b);
    for (let i = 0; i + 1 < crossings.length; i += 2) {
      const from = Math.max(0, Math.ceil(crossings[i]! * SIDE - 0.5));
      const to = Math.min(SIDE, Math.ceil(crossings[i + 1]! * SIDE - 0.5));
      if (to > from) within.fill(1, row * SIDE + from, row * SIDE + to);
    }
  }
  return within;
}
