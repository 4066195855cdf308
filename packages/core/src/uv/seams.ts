import { eachSharedEdge, nextCorner } from '../mesh/edges.ts';
import type { Layout } from './layout.ts';

/**
 * Where a layout is cut: an edge in space that two triangles share, but not in the layout. Each side names the corners
 * of its triangle at which the edge begins and ends; both sides run the same way.
 */
export interface Seam {
  here: readonly [from: number, to: number];
  there: readonly [from: number, to: number];
}

export function seamsOf({ positions, uvs, indices }: Layout): Seam[] {
  const seams: Seam[] = [];
  const same = (i: number, j: number): boolean => {
    const [a, b] = [indices[i]! * 2, indices[j]! * 2];
    return uvs[a] === uvs[b] && uvs[a + 1] === uvs[b + 1];
  };
  eachSharedEdge(positions, indices, (here, there) => {
    const end = nextCorner(here);
    const otherEnd = nextCorner(there);
    if (same(here, otherEnd) && same(end, there)) return;
    seams.push({ here: [here, end], there: [otherEnd, there] });
  });
  return seams;
}
