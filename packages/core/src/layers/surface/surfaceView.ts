import { pictureAxes, unit } from './direction.ts';
import type { LayeredSurface } from './layeredSurface.ts';
import { nearestTriangles } from './zBuffer.ts';
import type { SurfacePlaces } from '../compose/section.ts';
import type { Direction } from '../stack.ts';

/** What is seen of a surface from one side, pixel by pixel. */
export interface SurfaceView {
  side: number;
  /** The pixels in which there is something, row by row from the upper left. */
  pixels: Uint32Array;
  /** What is seen in each of them. */
  places: SurfacePlaces;
}

/**
 * Looks at a surface along a direction, without perspective, so that all of it fits.
 * @param side of the view in pixels
 * @param towards direction from the surface to the eye
 * @example viewOf(surface, 96, [0.4, 0.5, 1]).pixels.length // how many pixels it fills
 */
export function viewOf({ receiver }: LayeredSurface, side: number, towards: Direction): SurfaceView {
  const { positions, indices } = receiver;
  const out = unit(towards);
  const [right, up] = pictureAxes(out);
  const count = positions.length / 3;
  const seen = new Float32Array(count * 3);
  const low = [Infinity, Infinity];
  const high = [-Infinity, -Infinity];
  for (let i = 0; i < count; i++) {
    const [x, y, z] = [positions[i * 3]!, positions[i * 3 + 1]!, positions[i * 3 + 2]!];
    const u = x * right[0] + y * right[1] + z * right[2];
    const v = x * up[0] + y * up[1] + z * up[2];
    seen[i * 3] = u;
    seen[i * 3 + 1] = v;
    seen[i * 3 + 2] = x * out[0] + y * out[1] + z * out[2];
    low[0] = Math.min(low[0]!, u);
    low[1] = Math.min(low[1]!, v);
    high[0] = Math.max(high[0]!, u);
    high[1] = Math.max(high[1]!, v);
  }
  const extent = Math.max(high[0]! - low[0]!, high[1]! - low[1]!) || 1;
  const scale = (side * 0.94) / extent;
  const middle = [(low[0]! + high[0]!) / 2, (low[1]! + high[1]!) / 2];
  for (let i = 0; i < count; i++) {
    seen[i * 3] = side / 2 + (seen[i * 3]! - middle[0]!) * scale;
    seen[i * 3 + 1] = side / 2 - (seen[i * 3 + 1]! - middle[1]!) * scale;
  }
  const { depth, triangles, weights } = nearestTriangles(seen, indices, side);
  const pixels = Uint32Array.from(depth.keys()).filter((at) => depth[at]! > -Infinity);
  return {
    side,
    pixels,
    places: {
      triangles: Uint32Array.from(pixels, (at) => triangles[at]!),
      weights: Float64Array.from({ length: pixels.length * 2 }, (_, i) => weights[pixels[i >> 1]! * 2 + (i & 1)]!),
    },
  };
}

/** What is seen nearest to the middle of a view, in millimetres; null where nothing is. */
export function middleOf(
  { receiver: { positions, normals, indices } }: LayeredSurface,
  { side, pixels, places: { triangles, weights } }: SurfaceView,
): { triangle: number; place: [number, number, number]; normal: [number, number, number] } | null {
  let nearest = -1;
  let least = Infinity;
  pixels.forEach((pixel, i) => {
    const far = Math.hypot((pixel % side) - side / 2, Math.floor(pixel / side) - side / 2);
    if (far < least) [nearest, least] = [i, far];
  });
  if (nearest < 0) return null;
  const triangle = triangles[nearest]!;
  const [b, c] = [weights[nearest * 2]!, weights[nearest * 2 + 1]!];
  const mixed = (values: Float32Array): [number, number, number] => {
    const at = (axis: number): number =>
      [1 - b - c, b, c].reduce((sum, w, corner) => sum + w * values[indices[triangle * 3 + corner]! * 3 + axis]!, 0);
    return [at(0), at(1), at(2)];
  };
  return { triangle, place: mixed(positions), normal: unit(mixed(normals)) };
}
