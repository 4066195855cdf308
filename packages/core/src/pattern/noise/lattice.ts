import { randomNumbers } from '../../math/randomNumbers.ts';

/**
 * Numbers 0 to 255 in an order that depends on the seed, twice over: a hash of lattice points as Perlin introduced it.
 * Shuffled by Fisher and Yates.
 * @param random numbers 0 to below 1
 */
export function permutation(random: () => number): Uint8Array {
  const table = new Uint8Array(512);
  for (let i = 0; i < 256; i++) table[i] = i;
  for (let i = 0; i < 255; i++) {
    const other = i + Math.floor(random() * (256 - i));
    const value = table[i]!;
    table[i] = table[other]!;
    table[other] = value;
  }
  table.copyWithin(256, 0, 256);
  return table;
}

export const permutationOf = (seed: number): Uint8Array => permutation(randomNumbers(seed));

/** A noise over two to four dimensions; the last ones are left out where there are fewer. */
export type Noise = (x: number, y: number, z: number, w: number) => number;

export type Dimensions = 2 | 3 | 4;

/** Gradients of two dimensions: along the axes and the diagonals. */
export const GRADIENTS_2 = Float64Array.of(
  1,
  1,
  -1,
  1,
  1,
  -1,
  -1,
  -1,
  1,
  0,
  -1,
  0,
  1,
  0,
  -1,
  0,
  0,
  1,
  0,
  -1,
  0,
  1,
  0,
  -1,
);

/**
 * Gradients of more: to the middles of the edges of a cube, by Perlin (2002), and of its likeness in four dimensions, in
 * the order in which they are usually listed.
 */
export const GRADIENTS_3 = edgeMiddles(3, [2, 1, 0], (axes) => axes);
export const GRADIENTS_4 = edgeMiddles(4, [0, 1, 2, 3], (axes) => axes.toReversed());

/** @param along the axis of each edge, one after the other @param order in which signs change, the fastest first */
function edgeMiddles(dimensions: number, along: number[], order: (axes: number[]) => number[]): Float64Array {
  const all: number[] = [];
  for (const axis of along) {
    const others = order([...Array(dimensions).keys()].filter((k) => k !== axis));
    for (let signs = 0; signs < 1 << others.length; signs++) {
      const gradient = new Array<number>(dimensions).fill(0);
      others.forEach((k, bit) => (gradient[k] = (signs >> bit) & 1 ? -1 : 1));
      all.push(...gradient);
    }
  }
  return Float64Array.from(all);
}
