import type { LayeredTile } from './layeredSurface.ts';

/**
 * How far a step of one texel leads over a triangle, in millimetres.
 * @param right told x, y and z of a step to the right in the map
 * @param up the same of one upwards
 * @returns false where the triangle has no area in the map
 */
export function texelSteps(
  { surface, uvs, size }: LayeredTile,
  triangle: number,
  right: Float64Array,
  up: Float64Array,
): boolean {
  const { positions, indices } = surface.receiver;
  const [a, b, c] = [indices[triangle * 3]!, indices[triangle * 3 + 1]!, indices[triangle * 3 + 2]!];
  const du1 = (uvs[b * 2]! - uvs[a * 2]!) * size.width;
  const dv1 = (uvs[b * 2 + 1]! - uvs[a * 2 + 1]!) * size.height;
  const du2 = (uvs[c * 2]! - uvs[a * 2]!) * size.width;
  const dv2 = (uvs[c * 2 + 1]! - uvs[a * 2 + 1]!) * size.height;
  const det = du1 * dv2 - du2 * dv1;
  if (Math.abs(det) < 1e-12) return false;
  for (let k = 0; k < 3; k++) {
    const e1 = positions[b * 3 + k]! - positions[a * 3 + k]!;
    const e2 = positions[c * 3 + k]! - positions[a * 3 + k]!;
    right[k] = (e1 * dv2 - e2 * dv1) / det;
    up[k] = (e2 * du1 - e1 * du2) / det;
  }
  return true;
}
