import { GRADIENTS_2, GRADIENTS_3, GRADIENTS_4, type Dimensions, type Noise } from './lattice.ts';

/**
 * Simplex noise in two to four dimensions, −1 to 1 (Gustavson, "Simplex noise demystified", 2005).
 * @param table of `permutation`
 */
export function simplexNoise(table: Uint8Array, dimensions: Dimensions): Noise {
  if (dimensions === 2) return simplex2(table);
  return dimensions === 3 ? simplex3(table) : simplex4(table);
}

function simplex2(table: Uint8Array): Noise {
  const skew = 0.5 * (Math.sqrt(3) - 1);
  const unskew = (3 - Math.sqrt(3)) / 6;
  const corner = (i: number, j: number, x: number, y: number): number => {
    const fall = 0.5 - x * x - y * y;
    if (fall <= 0) return 0;
    const g = (table[(i & 255) + table[j & 255]!]! % 12) * 2;
    return fall * fall * fall * fall * (GRADIENTS_2[g]! * x + GRADIENTS_2[g + 1]! * y);
  };
  return (px, py) => {
    const s = (px + py) * skew;
    const [i, j] = [Math.floor(px + s), Math.floor(py + s)];
    const t = (i + j) * unskew;
    const [x, y] = [px - i + t, py - j + t];
    const [di, dj] = x > y ? [1, 0] : [0, 1];
    return (
      70 *
      (corner(i, j, x, y) +
        corner(i + di, j + dj, x - di + unskew, y - dj + unskew) +
        corner(i + 1, j + 1, x - 1 + 2 * unskew, y - 1 + 2 * unskew))
    );
  };
}

function simplex3(table: Uint8Array): Noise {
  const unskew = 1 / 6;
  const corner = (i: number, j: number, k: number, x: number, y: number, z: number): number => {
    const fall = 0.6 - x * x - y * y - z * z;
    if (fall < 0) return 0;
    const g = (table[(i & 255) + table[(j & 255) + table[k & 255]!]!]! % 12) * 3;
    return fall * fall * fall * fall * (GRADIENTS_3[g]! * x + GRADIENTS_3[g + 1]! * y + GRADIENTS_3[g + 2]! * z);
  };
  return (px, py, pz) => {
    const s = (px + py + pz) / 3;
    const [i, j, k] = [Math.floor(px + s), Math.floor(py + s), Math.floor(pz + s)];
    const t = (i + j + k) * unskew;
    const [x, y, z] = [px - i + t, py - j + t, pz - k + t];
    // Axes are gone along in the order of how far the place lies along them.
    const [xy, xz, yz] = [x >= y, x >= z, y >= z];
    const [i1, j1, k1] = [xy && xz ? 1 : 0, !xy && yz ? 1 : 0, !xz && !yz ? 1 : 0];
    const [i2, j2, k2] = [xy || xz ? 1 : 0, !xy || yz ? 1 : 0, !xz || !yz ? 1 : 0];
    return (
      32 *
      (corner(i, j, k, x, y, z) +
        corner(i + i1, j + j1, k + k1, x - i1 + unskew, y - j1 + unskew, z - k1 + unskew) +
        corner(i + i2, j + j2, k + k2, x - i2 + 2 * unskew, y - j2 + 2 * unskew, z - k2 + 2 * unskew) +
        corner(i + 1, j + 1, k + 1, x - 1 + 3 * unskew, y - 1 + 3 * unskew, z - 1 + 3 * unskew))
    );
  };
}

function simplex4(table: Uint8Array): Noise {
  const skew = (Math.sqrt(5) - 1) / 4;
  const unskew = (5 - Math.sqrt(5)) / 20;
  const corner = (i: number, j: number, k: number, l: number, x: number, y: number, z: number, w: number): number => {
    const fall = 0.6 - x * x - y * y - z * z - w * w;
    if (fall < 0) return 0;
    const hash = table[(i & 255) + table[(j & 255) + table[(k & 255) + table[l & 255]!]!]!]!;
    const g = (hash % 32) * 4;
    const slope = GRADIENTS_4[g]! * x + GRADIENTS_4[g + 1]! * y + GRADIENTS_4[g + 2]! * z + GRADIENTS_4[g + 3]! * w;
    return fall * fall * fall * fall * slope;
  };
  return (px, py, pz, pw) => {
    const s = (px + py + pz + pw) * skew;
    const [i, j, k, l] = [Math.floor(px + s), Math.floor(py + s), Math.floor(pz + s), Math.floor(pw + s)];
    const t = (i + j + k + l) * unskew;
    const [x, y, z, w] = [px - i + t, py - j + t, pz - k + t, pw - l + t];
    const [xy, xz, yz, xw, yw, zw] = [x > y, x > z, y > z, x > w, y > w, z > w];
    const rankX = (xy ? 1 : 0) + (xz ? 1 : 0) + (xw ? 1 : 0);
    const rankY = (xy ? 0 : 1) + (yz ? 1 : 0) + (yw ? 1 : 0);
    const rankZ = (xz ? 0 : 1) + (yz ? 0 : 1) + (zw ? 1 : 0);
    const rankW = 6 - rankX - rankY - rankZ;
    let sum = corner(i, j, k, l, x, y, z, w);
    for (let step = 1; step <= 4; step++) {
      const least = 4 - step;
      const [a, b, c, d] = [
        rankX >= least ? 1 : 0,
        rankY >= least ? 1 : 0,
        rankZ >= least ? 1 : 0,
        rankW >= least ? 1 : 0,
      ];
      const back = step * unskew;
      sum += corner(i + a, j + b, k + c, l + d, x - a + back, y - b + back, z - c + back, w - d + back);
    }
    return 27 * sum;
  };
}
