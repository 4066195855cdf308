/**
 * Expresses a normal in the frame a MikkTSpace shader rebuilds at a point: it decodes
 * n = t.x · vT + t.y · sign · cross(vN, vT) + t.z · vN with vN and vT interpolated and not normalised, so the
 * baked vector is the exact inverse of that matrix (Mikkelsen 2008). A frame that has collapsed gives the flat
 * normal.
 * @param Nx, Ny, Nz interpolated vertex normal, not normalised
 * @param Tx, Ty, Tz interpolated vertex tangent, not normalised
 * @param out receives the unit tangent-space vector
 */
export function toTangentSpace(
  nx: number,
  ny: number,
  nz: number,
  Nx: number,
  Ny: number,
  Nz: number,
  Tx: number,
  Ty: number,
  Tz: number,
  sign: number,
  out: Float64Array,
): void {
  const Bx = sign * (Ny * Tz - Nz * Ty);
  const By = sign * (Nz * Tx - Nx * Tz);
  const Bz = sign * (Nx * Ty - Ny * Tx);
  // Rows of the adjugate of [T B N]; the determinant only scales them, and its sign is restored below.
  const x = nx * (By * Nz - Bz * Ny) + ny * (Bz * Nx - Bx * Nz) + nz * (Bx * Ny - By * Nx);
  const y = nx * (Ny * Tz - Nz * Ty) + ny * (Nz * Tx - Nx * Tz) + nz * (Nx * Ty - Ny * Tx);
  const z = nx * (Ty * Bz - Tz * By) + ny * (Tz * Bx - Tx * Bz) + nz * (Tx * By - Ty * Bx);
  const determinant = Tx * (By * Nz - Bz * Ny) + Ty * (Bz * Nx - Bx * Nz) + Tz * (Bx * Ny - By * Nx);
  const length = Math.sqrt(x * x + y * y + z * z);
  if (!(length > 0) || determinant === 0) {
    out[0] = 0;
    out[1] = 0;
    out[2] = 1;
    return;
  }
  const scale = determinant > 0 ? 1 / length : -1 / length;
  out[0] = x * scale;
  out[1] = y * scale;
  out[2] = z * scale;
}

/**
 * The normal that a MikkTSpace shader sees in a frame: n = t.x · vT + t.y · sign · cross(vN, vT) + t.z · vN, made a unit
 * vector.
 * @param x, y, z in tangent space
 * @param Nx, Ny, Nz interpolated vertex normal, not normalised
 * @param Tx, Ty, Tz interpolated vertex tangent, not normalised
 * @param out receives the direction
 */
export function fromTangentSpace(
  x: number,
  y: number,
  z: number,
  Nx: number,
  Ny: number,
  Nz: number,
  Tx: number,
  Ty: number,
  Tz: number,
  sign: number,
  out: Float64Array,
): void {
  const turned = y * sign;
  const dx = x * Tx + turned * (Ny * Tz - Nz * Ty) + z * Nx;
  const dy = x * Ty + turned * (Nz * Tx - Nx * Tz) + z * Ny;
  const dz = x * Tz + turned * (Nx * Ty - Ny * Tx) + z * Nz;
  const length = Math.sqrt(dx * dx + dy * dy + dz * dz) || 1;
  out[0] = dx / length;
  out[1] = dy / length;
  out[2] = dz / length;
}
