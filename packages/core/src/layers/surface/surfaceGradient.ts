import { TEXELS, type TexelBlock } from './texelBlock.ts';

const vector = new Float64Array(3);

/** The normals that a surface has with a gradient of heights in space, in its tangent space. */
export function gradientToNormals(gradient: Float32Array, block: TexelBlock, out: Float32Array): void {
  const { normals, count } = block;
  for (let i = 0; i < count; i++) {
    const nx = normals[i]!;
    const ny = normals[TEXELS + i]!;
    const nz = normals[TEXELS * 2 + i]!;
    const gx = gradient[i]!;
    const gy = gradient[TEXELS + i]!;
    const gz = gradient[TEXELS * 2 + i]!;
    const off = nx * gx + ny * gy + nz * gz;
    block.toTangentSpace(i, nx - (gx - nx * off), ny - (gy - ny * off), nz - (gz - nz * off), vector);
    putUnit(out, i, vector[0]!, vector[1]!, vector[2]!);
  }
}

/** Writes a vector into planes, made a unit vector. */
export function putUnit(out: Float32Array, i: number, x: number, y: number, z: number): void {
  const length = Math.sqrt(x * x + y * y + z * z) || 1;
  out[i] = x / length;
  out[TEXELS + i] = y / length;
  out[TEXELS * 2 + i] = z / length;
}
