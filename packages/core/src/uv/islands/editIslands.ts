import { ZographosError } from '../../errors.ts';
import type { Mesh } from '../../mesh/mesh.ts';
import { withUvSet } from '../../mesh/uvSets.ts';
import { islandNumbers } from './islands.ts';
import { layoutOf } from '../layout.ts';

/** An affine map of the layout: u′ = a u + c v + e, v′ = b u + d v + f. */
export type UvMatrix = readonly [a: number, b: number, c: number, d: number, e: number, f: number];

export const shiftBy = (u: number, v: number): UvMatrix => [1, 0, 0, 1, u, v];

/**
 * Turns and scales about a point, in the shape of the map: on one that is not square, a turned island keeps its angles
 * in texels.
 * @param angle counter-clockwise, degrees
 * @param aspect width over height of the map
 */
export function turnAndScale(
  [u, v]: readonly [number, number],
  angle: number,
  [su, sv]: readonly [number, number],
  aspect = 1,
): UvMatrix {
  const quarter = angle / 90;
  // Quarter turns are exact.
  const [cos, sin] = Number.isInteger(quarter)
    ? [[1, 0, -1, 0][((quarter % 4) + 4) % 4]!, [0, 1, 0, -1][((quarter % 4) + 4) % 4]!]
    : [Math.cos((angle * Math.PI) / 180), Math.sin((angle * Math.PI) / 180)];
  const a = cos * su;
  const b = sin * su * aspect;
  const c = (-sin * sv) / aspect;
  const d = cos * sv;
  return [a, b, c, d, u - a * u - c * v, v - b * u - d * v];
}

/** First one, then the other. */
export const afterwards = (first: UvMatrix, then: UvMatrix): UvMatrix => {
  const [a, b, c, d, e, f] = then;
  const [p, q, r, s, x, y] = first;
  return [a * p + c * q, b * p + d * q, a * r + c * s, b * r + d * s, a * x + c * y + e, b * x + d * y + f];
};

/** UVs beyond this lose the digits that texels need. */
const FARTHEST = 1000;

/**
 * The same mesh with islands of a layout in other places. The numbers are those of `islandNumbers`.
 * @throws input/bad-request when an island would leave the room of UDIM tiles by far, or have no area
 */
export function moveIslands(
  mesh: Mesh,
  uvSet: number,
  moves: readonly { islands: readonly number[]; matrix: UvMatrix }[],
): Mesh {
  const layout = layoutOf(mesh, uvSet);
  const islandOf = islandNumbers(layout);
  const matrixOf = new Map<number, UvMatrix>();
  for (const { islands, matrix } of moves) {
    const [a, b, c, d] = matrix;
    if (!(Math.abs(a * d - b * c) > 1e-12)) {
      throw new ZographosError('input/bad-request', 'Islands cannot be scaled to nothing. Choose a scale above 0.');
    }
    for (const island of islands) matrixOf.set(island, matrix);
  }
  const coords = layout.uvs.slice();
  for (let i = 0; i < layout.indices.length; i++) {
    const matrix = matrixOf.get(islandOf[Math.floor(i / 3)]!);
    if (!matrix) continue;
    const v = layout.indices[i]!;
    const [a, b, c, d, e, f] = matrix;
    const [x, y] = [layout.uvs[v * 2]!, layout.uvs[v * 2 + 1]!];
    coords[v * 2] = a * x + c * y + e;
    coords[v * 2 + 1] = b * x + d * y + f;
    if (!(Math.abs(coords[v * 2]!) < FARTHEST && Math.abs(coords[v * 2 + 1]!) < FARTHEST)) {
      throw new ZographosError(
        'input/bad-request',
        `An island would lie more than ${FARTHEST} tiles away. Move it by less, or pack it.`,
      );
    }
  }
  return withUvSet(mesh, uvSet, { coords });
}
