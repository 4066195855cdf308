/** Two unit vectors at right angles to a unit vector and to each other. */
export let basisTX: f64 = 1;
export let basisTY: f64 = 0;
export let basisTZ: f64 = 0;
export let basisSX: f64 = 0;
export let basisSY: f64 = 1;
export let basisSZ: f64 = 0;

/** Finds them, without a branch (Duff and others, "Building an Orthonormal Basis, Revisited", 2017). */
export function orthonormalBasis(x: f64, y: f64, z: f64): void {
  const sign: f64 = z < 0 ? -1 : 1;
  const p = -1 / (sign + z);
  const q = x * y * p;
  basisTX = 1 + sign * x * x * p;
  basisTY = sign * q;
  basisTZ = -sign * x;
  basisSX = q;
  basisSY = sign + y * y * p;
  basisSZ = -y;
}
