import type { Mesh } from '../../mesh/mesh.ts';
import { withUvSet } from '../../mesh/uvSets.ts';
import { islandNumbers } from './islands.ts';
import { layoutOf } from '../layout.ts';

/**
 * Whether two islands lie on each other on purpose.
 * @param shared stacks of islands, each named by one of its triangles
 * @param islandOf the island of each triangle
 */
export function isSharedStack(
  shared: readonly (readonly number[])[] = [],
  islandOf: Uint32Array,
): (a: number, b: number) => boolean {
  const stacks = new Map<number, Set<number>>();
  shared.forEach((stack, number) => {
    for (const triangle of stack) {
      const island = islandOf[triangle];
      if (island === undefined) continue;
      const known = stacks.get(island) ?? new Set();
      stacks.set(island, known.add(number));
    }
  });
  if (stacks.size === 0) return () => false;
  return (a, b) => {
    const others = stacks.get(b);
    return a !== b && others !== undefined && [...(stacks.get(a) ?? [])].some((stack) => others.has(stack));
  };
}

/**
 * Marks islands as lying on each other on purpose, or takes that mark from them.
 * @param islands their numbers
 */
export function shareIslands(mesh: Mesh, uvSet: number, islands: readonly number[], on: boolean): Mesh {
  const islandOf = islandNumbers(layoutOf(mesh, uvSet));
  const meant = new Set(islands);
  const { shared = [] } = mesh.uvSets[uvSet]!;
  const others = shared
    .map((stack) => stack.filter((triangle) => !meant.has(islandOf[triangle]!)))
    .filter((stack) => stack.length > 1);
  const stack = [...meant].map((island) => islandOf.indexOf(island)).filter((triangle) => triangle >= 0);
  return withUvSet(mesh, uvSet, { shared: on && stack.length > 1 ? [...others, stack] : others });
}
