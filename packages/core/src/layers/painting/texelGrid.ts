import { BLOCK } from '../../bake/coverage/blocks.ts';
import type { LayeredSurface, LayeredTile } from '../surface/layeredSurface.ts';
import { TexelBlock } from '../surface/texelBlock.ts';
import { boxOfBlock } from './texelRows.ts';

/** Texels that are mixed at most. */
const MOST_FOUND = 256;

/**
 * The texels of tiles by where they lie in space, so that what is near on the surface is found whatever the layout is: over
 * seams and from tile to tile as within islands. A hashed grid of cells, sorted by their buckets.
 */
export class TexelGrid {
  /** How many there are; copies of those near the borders of a tile that repeats follow, as they lie beyond. */
  readonly own: number;
  /** The tile of each, by its number among those that were given. */
  readonly of: Uint16Array;
  /** Where each lies in the map of its tile. */
  readonly at: Uint32Array;
  readonly triangles: Uint32Array;
  /** Barycentric weights of the second and third corner. */
  readonly weights: Float32Array;
  /** In millimetres. */
  readonly x: Float32Array;
  readonly y: Float32Array;
  readonly z: Float32Array;
  private readonly repeats: LayeredSurface['repeats'];
  private readonly cell: number;
  private readonly begins: Uint32Array;
  private readonly sorted: Uint32Array;
  private readonly mask: number;
  private readonly found = new Uint32Array(MOST_FOUND);
  private readonly shares = new Float64Array(MOST_FOUND);

  /**
   * @param tiles of one surface, of the same size
   * @param boxes only blocks that meet one of these are taken up: x, y, z of the lower and upper corner
   * @param reach how far from a place texels are looked for, in their own widths
   */
  constructor(tiles: readonly LayeredTile[], boxes: readonly (readonly number[])[], reach: number) {
    const { texel, surface } = tiles[0]!;
    this.cell = texel * reach;
    this.repeats = surface.repeats;
    const own = joined(tiles.flatMap((tile, number) => texelsIn(tile, number, boxes)));
    const { of, at, triangles, weights, x, y, z } = this.repeats ? withCopies(own, this.repeats, this.cell) : own;
    this.own = own.at.length;
    [this.of, this.at, this.triangles, this.weights] = [of, at, triangles, weights];
    [this.x, this.y, this.z] = [x, y, z];
    const count = at.length;
    let buckets = 1024;
    while (buckets < count) buckets *= 2;
    this.mask = buckets - 1;
    this.begins = new Uint32Array(buckets + 1);
    const bucketOf = Uint32Array.from({ length: count }, (_, i) =>
      this.bucket(this.cellOf(this.x[i]!), this.cellOf(this.y[i]!), this.cellOf(this.z[i]!)),
    );
    for (const bucket of bucketOf) this.begins[bucket + 1]!++;
    for (let b = 0; b < buckets; b++) this.begins[b + 1]! += this.begins[b]!;
    const filled = this.begins.slice();
    this.sorted = new Uint32Array(count);
    for (let i = 0; i < count; i++) this.sorted[filled[bucketOf[i]!]!++] = i;
  }

  private cellOf(value: number): number {
    return Math.floor(value / this.cell);
  }

  private bucket(i: number, j: number, k: number): number {
    const hash = Math.imul(i, 73856093) ^ Math.imul(j, 19349663) ^ Math.imul(k, 83492791);
    return (hash ^ (hash >>> 15)) & this.mask;
  }

  /**
   * Mixes the values of the texels about a place, the nearest most.
   * @param planes so many values for each texel of each tile's map
   * @returns false where no texel is near
   */
  sample(x: number, y: number, z: number, planes: readonly Float32Array[], width: number, out: Float64Array): boolean {
    const count = this.near(x, y, z);
    if (count === 0) return false;
    let sum = 0;
    out.fill(0);
    for (let n = 0; n < count; n++) {
      const weight = this.shares[n]!;
      sum += weight;
      const texel = this.found[n]!;
      const plane = planes[this.of[texel]!]!;
      const at = this.at[texel]! * width;
      for (let k = 0; k < width; k++) out[k]! += weight * plane[at + k]!;
    }
    for (let k = 0; k < width; k++) out[k]! /= sum;
    return true;
  }

  /** Finds texels within a cell's width, with weights that fall to 0 there. */
  private near(x: number, y: number, z: number): number {
    const { cell, repeats } = this;
    if (repeats) {
      x -= Math.floor(x / repeats[0]) * repeats[0];
      y -= Math.floor(y / repeats[1]) * repeats[1];
    }
    const [i, j, k] = [this.cellOf(x), this.cellOf(y), this.cellOf(z)];
    let count = 0;
    for (let a = i - 1; a <= i + 1; a++) {
      for (let b = j - 1; b <= j + 1; b++) {
        for (let c = k - 1; c <= k + 1; c++) {
          const bucket = this.bucket(a, b, c);
          for (let at = this.begins[bucket]!; at < this.begins[bucket + 1]!; at++) {
            const texel = this.sorted[at]!;
            const [px, py, pz] = [this.x[texel]!, this.y[texel]!, this.z[texel]!];
            // Other cells share the bucket.
            if (this.cellOf(px) !== a || this.cellOf(py) !== b || this.cellOf(pz) !== c) continue;
            const share = 1 - ((px - x) ** 2 + (py - y) ** 2 + (pz - z) ** 2) / (cell * cell);
            if (share <= 0 || count === this.found.length) continue;
            this.found[count] = texel;
            this.shares[count++] = share * share * share + 1e-9;
          }
        }
      }
    }
    return count;
  }
}

interface Texels {
  of: Uint16Array;
  at: Uint32Array;
  triangles: Uint32Array;
  weights: Float32Array;
  x: Float32Array;
  y: Float32Array;
  z: Float32Array;
}

/** The texels of those blocks of a tile that meet one of some boxes. */
function texelsIn(tile: LayeredTile, number: number, boxes: readonly (readonly number[])[]): Texels[] {
  const block = new TexelBlock(tile);
  const box = new Float64Array(6);
  const parts: Texels[] = [];
  const blocks = Math.ceil(tile.size.width / BLOCK) * Math.ceil(tile.size.height / BLOCK);
  for (let b = 0; b < blocks; b++) {
    if (block.load(b) === 0) continue;
    boxOfBlock(block, box);
    if (!boxes.some((wanted) => meet(wanted, box))) continue;
    const { count, places } = block;
    const along = (k: 0 | 1 | 2): Float32Array => Float32Array.from(places[k].subarray(0, count));
    const of = new Uint16Array(count).fill(number);
    const [at, triangles] = [block.at.slice(0, count), block.triangles.slice(0, count)];
    const weights = Float32Array.from(block.weights.subarray(0, count * 2));
    parts.push({ of, at, triangles, weights, x: along(0), y: along(1), z: along(2) });
  }
  return parts;
}

function joined(parts: readonly Texels[]): Texels {
  const count = parts.reduce((sum, { at }) => sum + at.length, 0);
  const all: Texels = {
    ...{ of: new Uint16Array(count), at: new Uint32Array(count), triangles: new Uint32Array(count) },
    ...{ x: new Float32Array(count), y: new Float32Array(count), z: new Float32Array(count) },
    weights: new Float32Array(count * 2),
  };
  let from = 0;
  for (const part of parts) {
    for (const key of ['of', 'at', 'triangles', 'x', 'y', 'z'] as const) all[key].set(part[key], from);
    all.weights.set(part.weights, from * 2);
    from += part.at.length;
  }
  return all;
}

/** Texels, and copies of those within a reach of the borders of a tile that repeats, as they lie beyond the opposite one. */
function withCopies(texels: Texels, [width, height]: readonly [number, number], reach: number): Texels {
  const { x, y } = texels;
  const taken: number[] = [];
  const steps: number[] = [];
  const stepsOf = (value: number, length: number): number[] =>
    value < reach ? [0, length] : value > length - reach ? [0, -length] : [0];
  for (let i = 0; i < x.length; i++) {
    for (const dx of stepsOf(x[i]!, width)) {
      for (const dy of stepsOf(y[i]!, height)) {
        if (dx === 0 && dy === 0) continue;
        taken.push(i);
        steps.push(dx, dy);
      }
    }
  }
  const copies: Texels = {
    of: Uint16Array.from(taken, (i) => texels.of[i]!),
    at: Uint32Array.from(taken, (i) => texels.at[i]!),
    triangles: Uint32Array.from(taken, (i) => texels.triangles[i]!),
    weights: Float32Array.from({ length: taken.length * 2 }, (_, k) => texels.weights[taken[k >> 1]! * 2 + (k & 1)]!),
    x: Float32Array.from(taken, (i, n) => x[i]! + steps[n * 2]!),
    y: Float32Array.from(taken, (i, n) => y[i]! + steps[n * 2 + 1]!),
    z: Float32Array.from(taken, (i) => texels.z[i]!),
  };
  return joined([texels, copies]);
}

/** Whether two boxes meet: x, y, z of the lower and the upper corner of each. */
export const meet = (a: ArrayLike<number>, b: ArrayLike<number>): boolean =>
  [0, 1, 2].every((k) => a[k]! <= b[k + 3]! && a[k + 3]! >= b[k]!);
