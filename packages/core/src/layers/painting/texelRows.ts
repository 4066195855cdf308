import { BLOCK } from '../../bake/coverage/blocks.ts';
import { TEXELS, type TexelBlock } from '../surface/texelBlock.ts';

/** Texels that are bounded together: a row of a block that is covered all over. */
export const ROW = BLOCK;

/** A plane through a place, with its unit normal. */
export interface Plane {
  x: number;
  y: number;
  z: number;
  nx: number;
  ny: number;
  nz: number;
}

/**
 * Bounds of the rows of a block: a box about where their texels lie, and a cone about their normals. A dab goes over those
 * rows alone that it meets, and asks the texels of most rows for nothing but how far they are.
 */
export class TexelRows {
  /** x, y, z of the lower and the upper corner of each. */
  private readonly boxes = new Float64Array((TEXELS / ROW) * 6);
  /** x, y, z of the axis of each, and cosine and sine of the widest angle between it and a normal. */
  private readonly cones = new Float64Array((TEXELS / ROW) * 5);

  bound({ places, normals, count }: Pick<TexelBlock, 'places' | 'normals' | 'count'>): void {
    for (let from = 0, row = 0; from < count; from += ROW, row++) {
      const to = Math.min(count, from + ROW);
      boxOfPlaces(places, from, to, this.boxes, row * 6);
      coneOfNormals(normals, from, to, this.cones, row * 5);
    }
  }

  /** Whether a ball meets the box of a row. */
  isMet(row: number, x: number, y: number, z: number, radius: number): boolean {
    const { boxes } = this;
    const at = row * 6;
    const dx = Math.max(0, boxes[at]! - x, x - boxes[at + 3]!);
    const dy = Math.max(0, boxes[at + 1]! - y, y - boxes[at + 4]!);
    const dz = Math.max(0, boxes[at + 2]! - z, z - boxes[at + 5]!);
    return dx * dx + dy * dy + dz * dz < radius * radius;
  }

  /**
   * Whether all texels of a row lie nearer to a plane than a depth, and all their normals lean from its normal by no more
   * than the angle of a cosine.
   */
  liesAlong(row: number, { x, y, z, nx, ny, nz }: Plane, depth: number, leastCosine: number): boolean {
    const { boxes, cones } = this;
    const box = row * 6;
    const middle =
      (boxes[box]! + boxes[box + 3]! - 2 * x) * nx +
      (boxes[box + 1]! + boxes[box + 4]! - 2 * y) * ny +
      (boxes[box + 2]! + boxes[box + 5]! - 2 * z) * nz;
    const extent =
      (boxes[box + 3]! - boxes[box]!) * Math.abs(nx) +
      (boxes[box + 4]! - boxes[box + 1]!) * Math.abs(ny) +
      (boxes[box + 5]! - boxes[box + 2]!) * Math.abs(nz);
    if (Math.abs(middle) + extent > 2 * depth) return false;
    const cone = row * 5;
    const cosine = cones[cone]! * nx + cones[cone + 1]! * ny + cones[cone + 2]! * nz;
    if (!(cosine > 0)) return false;
    const sine = Math.sqrt(Math.max(0, 1 - cosine * cosine));
    return cosine * cones[cone + 3]! - sine * cones[cone + 4]! >= leastCosine;
  }
}

/** The box about the texels of a block. @param out told x, y, z of its lower and upper corner */
export const boxOfBlock = ({ places, count }: Pick<TexelBlock, 'places' | 'count'>, out: Float64Array): void =>
  boxOfPlaces(places, 0, count, out, 0);

/** @param from, to which of the places @param at where the box begins that is told */
function boxOfPlaces(places: TexelBlock['places'], from: number, to: number, out: Float64Array, at: number): void {
  for (let k = 0; k < 3; k++) {
    let low = Infinity;
    let high = -Infinity;
    const along = places[k]!;
    for (let i = from; i < to; i++) {
      if (along[i]! < low) low = along[i]!;
      if (along[i]! > high) high = along[i]!;
    }
    out[at + k] = low;
    out[at + 3 + k] = high;
  }
}

/** A cone that holds unit normals: their mean as its axis. Of those that cancel each other, one that is never inside. */
function coneOfNormals(normals: Float32Array, from: number, to: number, out: Float64Array, at: number): void {
  let [x, y, z] = [0, 0, 0];
  for (let i = from; i < to; i++) {
    x += normals[i]!;
    y += normals[TEXELS + i]!;
    z += normals[TEXELS * 2 + i]!;
  }
  const length = Math.sqrt(x * x + y * y + z * z);
  x /= length;
  y /= length;
  z /= length;
  let cosine = 1;
  for (let i = from; i < to; i++) {
    cosine = Math.min(cosine, normals[i]! * x + normals[TEXELS + i]! * y + normals[TEXELS * 2 + i]! * z);
  }
  out[at] = x;
  out[at + 1] = y;
  out[at + 2] = z;
  out[at + 3] = cosine;
  out[at + 4] = Math.sqrt(Math.max(0, 1 - cosine * cosine));
}
