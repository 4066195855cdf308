import { BLOCK } from '../../bake/coverage/blocks.ts';
import type { LayeredSurface, LayeredTile } from '../surface/layeredSurface.ts';
import { TexelBlock } from '../surface/texelBlock.ts';
import { boxOfBlock } from './strokeCoverage.ts';

/** Texels are looked for within so many of their own widths. */
const REACH = 1.6;

/**
 * The texels of a tile by where they lie in space, so that what is near on the surface is found whatever the layout is:
 * over seams as within islands. A hashed grid of cells, sorted by their buckets.
 */
export class TexelGrid {
  /** How many there are; copies of those near the borders of a tile that repeats follow, as they lie beyond. */
  readonly own: number;
  /** Where each lies in the map. */
  readonly at: Uint32Array;
  /** In millimetres. */
  readonly x: Float32Array;
  readonly y: Float32Array;
  readonly z: Float32Array;
  private readonly repeats: LayeredSurface['repeats'];
  private readonly cell: number;
  private readonly begins: Uint32Array;
  private readonly sorted: Uint32Array;
  private readonly mask: number;
  private readonly found = new Uint32Array(256);
  private readonly weights = new Float64Array(256);

  /** @param boxes only blocks that meet one of these are taken up: x, y, z of the lower and upper corner */
  constructor(tile: LayeredTile, boxes: readonly (readonly number[])[]) {
    this.cell = tile.texel * REACH;
    this.repeats = tile.surface.repeats;
    const own = texelsIn(tile, boxes);
    const { at, x, y, z } = this.repeats ? withCopies(own, this.repeats, this.cell) : own;
    this.own = own.at.length;
    [this.at, this.x, this.y, this.z] = [at, x, y, z];
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
   * @param plane so many values for each texel of the map
   * @returns false where no texel is near
   */
  sample(x: number, y: number, z: number, plane: Float32Array, width: number, out: Float64Array): boolean {
    const count = this.near(x, y, z);
    if (count === 0) return false;
    let sum = 0;
    out.fill(0);
    for (let n = 0; n < count; n++) {
      const weight = this.weights[n]!;
      sum += weight;
      for (let k = 0; k < width; k++) out[k]! += weight * plane[this.at[this.found[n]!]! * width + k]!;
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
            this.weights[count++] = share * share * share + 1e-9;
          }
        }
      }
    }
    return count;
  }
}

interface Texels {
  at: Uint32Array;
  x: Float32Array;
  y: Float32Array;
  z: Float32Array;
}

/** The texels of the blocks that meet one of some boxes. */
function texelsIn(tile: LayeredTile, boxes: readonly (readonly number[])[]): Texels {
  const block = new TexelBlock(tile);
  const box = new Float64Array(6);
  const parts: Texels[] = [];
  const blocks = Math.ceil(tile.size.width / BLOCK) * Math.ceil(tile.size.height / BLOCK);
  for (let number = 0; number < blocks; number++) {
    if (block.load(number) === 0) continue;
    boxOfBlock(block, box);
    if (!boxes.some((wanted) => meet(wanted, box))) continue;
    const { count, places } = block;
    const [x, y, z] = [0, 1, 2].map((k) => Float32Array.from(places[k]!.subarray(0, count))) as [
      Float32Array,
      Float32Array,
      Float32Array,
    ];
    parts.push({ at: block.at.slice(0, count), x, y, z });
  }
  const count = parts.reduce((sum, { at }) => sum + at.length, 0);
  const all: Texels = {
    at: new Uint32Array(count),
    ...{ x: new Float32Array(count), y: new Float32Array(count), z: new Float32Array(count) },
  };
  let from = 0;
  for (const part of parts) {
    for (const key of ['at', 'x', 'y', 'z'] as const) all[key].set(part[key], from);
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
  const joined = (values: Float32Array, axis: number): Float32Array => {
    const all = new Float32Array(values.length + taken.length);
    all.set(values);
    taken.forEach((i, n) => (all[values.length + n] = values[i]! + (axis < 2 ? steps[n * 2 + axis]! : 0)));
    return all;
  };
  const at = new Uint32Array(x.length + taken.length);
  at.set(texels.at);
  taken.forEach((i, n) => (at[x.length + n] = texels.at[i]!));
  return { at, x: joined(x, 0), y: joined(y, 1), z: joined(texels.z, 2) };
}

const meet = (a: readonly number[], b: Float64Array): boolean =>
  [0, 1, 2].every((k) => a[k]! <= b[k + 3]! && a[k + 3]! >= b[k]!);
