import { triangleArea } from '../../mesh/triangleArea.ts';
import { turnAndScale, type UvMatrix } from './editIslands.ts';
import { islandCount } from './islands.ts';
import type { Layout } from '../layout.ts';

/** The box of each island in the layout: u and v from, u and v to. @param islands the island of each triangle */
export function islandBoxes({ uvs, indices }: Pick<Layout, 'uvs' | 'indices'>, islands: Uint32Array): Float32Array {
  const boxes = new Float32Array(islandCount(islands) * 4);
  for (let i = 0; i < boxes.length; i += 4) boxes.set([Infinity, Infinity, -Infinity, -Infinity], i);
  for (let i = 0; i < indices.length; i++) {
    const box = islands[Math.floor(i / 3)]! * 4;
    const [u, v] = [uvs[indices[i]! * 2]!, uvs[indices[i]! * 2 + 1]!];
    boxes[box] = Math.min(boxes[box]!, u);
    boxes[box + 1] = Math.min(boxes[box + 1]!, v);
    boxes[box + 2] = Math.max(boxes[box + 2]!, u);
    boxes[box + 3] = Math.max(boxes[box + 3]!, v);
  }
  return boxes;
}

/**
 * Scales islands about their middles so that each has the mean texel density of all.
 * @param islands the island of each triangle
 * @param chosen the islands that are scaled
 */
export function evenDensityMoves(
  { positions, uvs, indices }: Layout,
  islands: Uint32Array,
  chosen: readonly number[],
): { islands: number[]; matrix: UvMatrix }[] {
  const count = islandCount(islands);
  const [inSpace, inLayout] = [new Float64Array(count), new Float64Array(count)];
  islands.forEach((island, t) => {
    inSpace[island]! += triangleArea(positions, 3, indices, t);
    inLayout[island]! += triangleArea(uvs, 2, indices, t);
  });
  const sum = (values: Float64Array): number => values.reduce((total, value) => total + value, 0);
  const mean = Math.sqrt(sum(inLayout) / sum(inSpace));
  const boxes = islandBoxes({ uvs, indices }, islands);
  return chosen.flatMap((island) => {
    const density = Math.sqrt(inLayout[island]! / inSpace[island]!);
    if (!(density > 0) || !Number.isFinite(density)) return [];
    const [u0, v0, u1, v1] = boxes.subarray(island * 4, island * 4 + 4);
    const factor = mean / density;
    return [{ islands: [island], matrix: turnAndScale([(u0! + u1!) / 2, (v0! + v1!) / 2], 0, [factor, factor]) }];
  });
}
