import { edgeLength } from '../../mesh/edges.ts';
import { triangleArea } from '../../mesh/triangleArea.ts';
import { islandCount } from '../islands/islands.ts';
import { doubleUvArea, type Layout } from '../layout.ts';

/** An island on its own: its triangles in the plane, laid straight, from 0 up. */
export interface IslandShape {
  island: number;
  /** x, y of the three corners of each triangle; lengths as on a map whose height is 1. */
  corners: Float64Array;
  width: number;
  height: number;
  /** Its area in the layout, in the same lengths, and on the surface. */
  area: number;
  surface: number;
  /** The lengths of all its edges, in the layout and on the surface. */
  edges: number;
  surfaceEdges: number;
  /** Cosine and sine of the angle by which it was turned, and where its corner was then. */
  cos: number;
  sin: number;
  x: number;
  y: number;
}

/**
 * The shapes of all islands of a layout.
 * @param islands the island of each triangle
 * @param aspect width of the map over its height
 * @param turn whether each is laid so that the box around it is smallest
 */
export function islandShapes(layout: Layout, islands: Uint32Array, aspect: number, turn: boolean): IslandShape[] {
  const { uvs, indices, positions } = layout;
  const sizes = new Uint32Array(islandCount(islands));
  for (const island of islands) sizes[island]!++;
  const shapes = Array.from(sizes, (triangles, island): IslandShape => {
    const corners = new Float64Array(triangles * 6);
    return {
      island,
      corners,
      width: 0,
      height: 0,
      area: 0,
      surface: 0,
      edges: 0,
      surfaceEdges: 0,
      cos: 1,
      sin: 0,
      x: 0,
      y: 0,
    };
  });
  const filled = new Uint32Array(sizes.length);
  for (let t = 0; t < islands.length; t++) {
    const shape = shapes[islands[t]!]!;
    const at = filled[shape.island]!++ * 6;
    for (let c = 0; c < 3; c++) {
      const v = indices[t * 3 + c]! * 2;
      shape.corners[at + c * 2] = uvs[v]! * aspect;
      shape.corners[at + c * 2 + 1] = uvs[v + 1]!;
    }
    shape.area += (Math.abs(doubleUvArea(layout, t)) / 2) * aspect;
    shape.surface += triangleArea(positions, 3, indices, t);
    for (let c = 0; c < 3; c++) {
      const [a, b] = [indices[t * 3 + c]!, indices[t * 3 + ((c + 1) % 3)]!];
      shape.edges += Math.hypot((uvs[b * 2]! - uvs[a * 2]!) * aspect, uvs[b * 2 + 1]! - uvs[a * 2 + 1]!);
      shape.surfaceEdges += edgeLength(positions, a, b);
    }
  }
  for (const shape of shapes) layStraight(shape, turn);
  return shapes;
}

/**
 * What an island's lengths are multiplied by to be those of the surface: by areas; but by edges where the island is
 * pressed so flat that its area says nothing.
 */
export function toSurface({ area, surface, edges, surfaceEdges }: IslandShape): number {
  const byEdges = edges > 0 && surfaceEdges > 0 ? surfaceEdges / edges : 1;
  const byArea = area > 0 && surface > 0 ? Math.sqrt(surface / area) : 0;
  return byArea > byEdges / PRESSED && byArea < byEdges * PRESSED ? byArea : byEdges;
}

/** How far both measures may be apart. */
const PRESSED = 3;

/** Turns a shape so that its box is smallest, if asked, and moves it to 0, 0. */
function layStraight(shape: IslandShape, turn: boolean): void {
  const { corners } = shape;
  if (turn) {
    const hull = convexHull(corners);
    let least = Infinity;
    // The smallest box lies along an edge of the hull (Freeman and Shapira 1975).
    for (let i = 0; i < hull.length; i += 2) {
      const next = (i + 2) % hull.length;
      const [dx, dy] = [hull[next]! - hull[i]!, hull[next + 1]! - hull[i + 1]!];
      const length = Math.hypot(dx, dy);
      if (length === 0) continue;
      const [cos, sin] = [dx / length, -dy / length];
      const { width, height } = boxOf(hull, cos, sin);
      if (width * height >= least * (1 - 1e-9)) continue;
      least = width * height;
      shape.cos = cos;
      shape.sin = sin;
    }
  }
  const box = boxOf(corners, shape.cos, shape.sin);
  Object.assign(shape, box);
  for (let i = 0; i < corners.length; i += 2) {
    const [x, y] = [corners[i]!, corners[i + 1]!];
    corners[i] = x * shape.cos - y * shape.sin - box.x;
    corners[i + 1] = x * shape.sin + y * shape.cos - box.y;
  }
}

function boxOf(points: ArrayLike<number>, cos: number, sin: number) {
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < points.length; i += 2) {
    const x = points[i]! * cos - points[i + 1]! * sin;
    const y = points[i]! * sin + points[i + 1]! * cos;
    x0 = Math.min(x0, x);
    x1 = Math.max(x1, x);
    y0 = Math.min(y0, y);
    y1 = Math.max(y1, y);
  }
  return { x: x0, y: y0, width: x1 - x0, height: y1 - y0 };
}

/** The convex hull, counter-clockwise (Andrew 1979). */
function convexHull(points: Float64Array): number[] {
  const order = Array.from({ length: points.length / 2 }, (_, i) => i * 2).sort(
    (a, b) => points[a]! - points[b]! || points[a + 1]! - points[b + 1]!,
  );
  const half = (along: number[]): number[] => {
    const hull: number[] = [];
    for (const p of along) {
      while (hull.length >= 2) {
        const [a, b] = [hull[hull.length - 2]!, hull[hull.length - 1]!];
        const turn =
          (points[b]! - points[a]!) * (points[p + 1]! - points[a + 1]!) -
          (points[b + 1]! - points[a + 1]!) * (points[p]! - points[a]!);
        if (turn > 0) break;
        hull.pop();
      }
      hull.push(p);
    }
    return hull.slice(0, -1);
  };
  return [...half(order), ...half(order.reverse())].flatMap((i) => [points[i]!, points[i + 1]!]);
}
