import type { ProjectedPlane } from '../inputs/projection.ts';
import { TEXELS, type TexelBlock } from './texelBlock.ts';

const vector = new Float64Array(3);

/** The normals that a surface has with a gradient of heights in space, in its tangent space. */
export function gradientToNormals(gradient: Float32Array, block: TexelBlock, out: Float32Array): void {
  for (let i = 0; i < block.count; i++) {
    lean(gradient, block.normals, i);
    block.toTangentSpace(i, vector[0]!, vector[1]!, vector[2]!, vector);
    putUnit(out, i, vector[0]!, vector[1]!, vector[2]!);
  }
}

/** Tells `vector` the normal of a texel less what of the gradient lies in the surface. */
function lean(gradient: Float32Array, normals: Float32Array, i: number): void {
  const nx = normals[i]!;
  const ny = normals[TEXELS + i]!;
  const nz = normals[TEXELS * 2 + i]!;
  const gx = gradient[i]!;
  const gy = gradient[TEXELS + i]!;
  const gz = gradient[TEXELS * 2 + i]!;
  const off = nx * gx + ny * gy + nz * gz;
  vector[0] = nx - (gx - nx * off);
  vector[1] = ny - (gy - ny * off);
  vector[2] = nz - (gz - nz * off);
}

/** The directions in space that normals of a surface with such a gradient have, in place. */
export function gradientToDirections(gradient: Float32Array, { normals, count }: TexelBlock): void {
  for (let i = 0; i < count; i++) {
    lean(gradient, normals, i);
    putUnit(gradient, i, vector[0]!, vector[1]!, vector[2]!);
  }
}

/**
 * Adds what the normals of one plane say of the slope of the material, as a gradient in space (Mikkelsen, "Surface
 * Gradient-Based Bump Mapping Framework", 2020).
 */
export function addGradient(
  seen: Float32Array,
  { weight, axes }: ProjectedPlane,
  relief: number,
  count: number,
  gradient: Float32Array,
): void {
  const { right, up } = axes!;
  for (let i = 0; i < count; i++) {
    const scale = (weight[i]! * relief) / Math.max(1e-3, seen[TEXELS * 2 + i]!);
    const across = -seen[i]! * scale;
    const along = -seen[TEXELS + i]! * scale;
    for (let k = i; k < TEXELS * 3; k += TEXELS) gradient[k]! += across * right[k]! + along * up[k]!;
  }
}

/** Writes a vector into planes, made a unit vector. */
export function putUnit(out: Float32Array, i: number, x: number, y: number, z: number): void {
  const length = Math.sqrt(x * x + y * y + z * z) || 1;
  out[i] = x / length;
  out[TEXELS + i] = y / length;
  out[TEXELS * 2 + i] = z / length;
}
