/**
 * Two unit vectors at right angles to a unit vector and to each other, without a branch (Duff and others, "Building an
 * Orthonormal Basis, Revisited", 2017).
 * @param out told x, y, z of the first and of the second
 */
export function orthonormalBasis(nx: number, ny: number, nz: number, out: Float64Array): void {
  const sign = nz < 0 ? -1 : 1;
  const p = -1 / (sign + nz);
  const q = nx * ny * p;
  out[0] = 1 + sign * nx * nx * p;
  out[1] = sign * q;
  out[2] = -sign * nx;
  out[3] = q;
  out[4] = sign + ny * ny * p;
  out[5] = -ny;
}
