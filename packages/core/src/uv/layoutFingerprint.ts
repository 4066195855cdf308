import { mixed } from '../math/lowDiscrepancy.ts';
import type { Layout } from './layout.ts';

/** UVs count as the same when they differ by less than a part of this many of a tile. */
const STEPS = 2 ** 20;

/**
 * What a layout is known by: equal for the same triangles at the same UVs, in whatever order triangles and vertices come
 * and whatever file they went through. Maps and meshes of different fingerprints do not belong together.
 * @returns 32 hexadecimal digits
 */
export function layoutFingerprint({ uvs, indices }: Pick<Layout, 'uvs' | 'indices'>): string {
  const sums = new Uint32Array(4);
  const corner = new Int32Array(6);
  for (let t = 0; t < indices.length; t += 3) {
    let first = 0;
    for (let c = 0; c < 3; c++) {
      const v = indices[t + c]! * 2;
      corner[c * 2] = Math.round(uvs[v]! * STEPS);
      corner[c * 2 + 1] = Math.round(uvs[v + 1]! * STEPS);
      // It does not matter with which corner a triangle begins.
      if (corner[c * 2]! < corner[first * 2]!) first = c;
      else if (corner[c * 2] === corner[first * 2] && corner[c * 2 + 1]! < corner[first * 2 + 1]!) first = c;
    }
    for (let k = 0; k < 4; k++) {
      let hash = 0x9e3779b9 * (k + 1);
      for (let i = 0; i < 6; i++) hash = mixed(hash ^ corner[(first * 2 + i) % 6]!, k * 6 + i);
      // Sums do not depend on the order of triangles.
      sums[k]! += hash;
    }
  }
  return [...sums].map((sum) => sum.toString(16).padStart(8, '0')).join('');
}
