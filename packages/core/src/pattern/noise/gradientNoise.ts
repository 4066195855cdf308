import { GRADIENTS_2, GRADIENTS_3, GRADIENTS_4, type Dimensions, type Noise } from './lattice.ts';

/**
 * Gradient noise on a square lattice, about −1 to 1, 0 at each of its points, with Perlin's second interpolant (Perlin,
 * "Improving Noise", 2002).
 * @param table of `permutation`
 */
export function gradientNoise(table: Uint8Array, dimensions: Dimensions): Noise {
  if (dimensions === 2) return (x, y) => noise2(table, x, y);
  return dimensions === 3 ? (x, y, z) => noise3(table, x, y, z) : (x, y, z, w) => noise4(table, x, y, z, w);
}

const eased = (t: number): number => t * t * t * (t * (t * 6 - 15) + 10);

function noise2(table: Uint8Array, px: number, py: number): number {
  const i = Math.floor(px);
  const j = Math.floor(py);
  const x = px - i;
  const y = py - j;
  const ex = eased(x);
  const ey = eased(y);
  let sum = 0;
  for (let a = 0; a < 2; a++) {
    const hash = table[(i + a) & 255]!;
    const wx = a === 0 ? 1 - ex : ex;
    for (let b = 0; b < 2; b++) {
      const g = (table[hash + ((j + b) & 255)]! % 12) * 2;
      sum += wx * (b === 0 ? 1 - ey : ey) * (GRADIENTS_2[g]! * (x - a) + GRADIENTS_2[g + 1]! * (y - b));
    }
  }
  return sum;
}

function noise3(table: Uint8Array, px: number, py: number, pz: number): number {
  const i = Math.floor(px);
  const j = Math.floor(py);
  const k = Math.floor(pz);
  const x = px - i;
  const y = py - j;
  const z = pz - k;
  const ex = eased(x);
  const ey = eased(y);
  const ez = eased(z);
  let sum = 0;
  for (let a = 0; a < 2; a++) {
    const ha = table[(i + a) & 255]!;
    const wa = a === 0 ? 1 - ex : ex;
    for (let b = 0; b < 2; b++) {
      const hb = table[ha + ((j + b) & 255)]!;
      const wb = wa * (b === 0 ? 1 - ey : ey);
      for (let c = 0; c < 2; c++) {
        const g = (table[hb + ((k + c) & 255)]! % 12) * 3;
        const slope = GRADIENTS_3[g]! * (x - a) + GRADIENTS_3[g + 1]! * (y - b) + GRADIENTS_3[g + 2]! * (z - c);
        sum += wb * (c === 0 ? 1 - ez : ez) * slope;
      }
    }
  }
  return sum;
}

function noise4(table: Uint8Array, px: number, py: number, pz: number, pw: number): number {
  const i = Math.floor(px);
  const j = Math.floor(py);
  const k = Math.floor(pz);
  const l = Math.floor(pw);
  const x = px - i;
  const y = py - j;
  const z = pz - k;
  const w = pw - l;
  const ex = eased(x);
  const ey = eased(y);
  const ez = eased(z);
  const ew = eased(w);
  let sum = 0;
  for (let a = 0; a < 2; a++) {
    const ha = table[(i + a) & 255]!;
    const wa = a === 0 ? 1 - ex : ex;
    for (let b = 0; b < 2; b++) {
      const hb = table[ha + ((j + b) & 255)]!;
      const wb = wa * (b === 0 ? 1 - ey : ey);
      for (let c = 0; c < 2; c++) {
        const hc = table[hb + ((k + c) & 255)]!;
        const wc = wb * (c === 0 ? 1 - ez : ez);
        for (let d = 0; d < 2; d++) {
          const g = (table[hc + ((l + d) & 255)]! & 31) * 4;
          const slope =
            GRADIENTS_4[g]! * (x - a) +
            GRADIENTS_4[g + 1]! * (y - b) +
            GRADIENTS_4[g + 2]! * (z - c) +
            GRADIENTS_4[g + 3]! * (w - d);
          sum += wc * (d === 0 ? 1 - ew : ew) * slope;
        }
      }
    }
  }
  return sum;
}
