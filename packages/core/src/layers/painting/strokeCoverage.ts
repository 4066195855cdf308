import { TEXELS, type TexelBlock } from '../texelBlock.ts';
import { CHUNK, dabsOf, type Dabs } from './dabs.ts';
import type { Stroke } from './stroke.ts';

/** A dab stops on surfaces that turn away from it by more than this cosine. */
const TURNED_AWAY = 0.17;
/** How far a dab reaches off its surface, as a share of its radius: over relief, but not through a wall. */
const DEPTH = 0.6;

/**
 * How strongly a stroke covers the texels of a block. A dab has its size on the surface, whatever the UVs are: a texel is
 * covered by where it lies in space, so strokes go over seams without a gap and never stretch.
 */
export class StrokeCoverage {
  readonly stroke: Stroke;
  private readonly dabs: Dabs;

  constructor(stroke: Stroke) {
    this.stroke = stroke;
    this.dabs = dabsOf(stroke);
  }

  /**
   * @param box x, y, z of the lower and upper corner of the block's texels
   * @param out told a share for each texel, 0 to the strength of the brush
   * @returns false where it covers none
   */
  cover(block: TexelBlock, box: Float64Array, out: Float32Array): boolean {
    const { count, centers, radii, boxes } = this.dabs;
    let isTouched = false;
    for (let chunk = 0; chunk * CHUNK < count; chunk++) {
      if (!meets(boxes, chunk * 6, box)) continue;
      for (let i = chunk * CHUNK; i < Math.min(count, (chunk + 1) * CHUNK); i++) {
        const r = radii[i]!;
        if (
          centers[i * 3]! + r < box[0]! ||
          centers[i * 3]! - r > box[3]! ||
          centers[i * 3 + 1]! + r < box[1]! ||
          centers[i * 3 + 1]! - r > box[4]! ||
          centers[i * 3 + 2]! + r < box[2]! ||
          centers[i * 3 + 2]! - r > box[5]!
        )
          continue;
        if (!isTouched) out.fill(0, 0, block.count);
        isTouched = true;
        this.addDab(i, block, out);
      }
    }
    if (!isTouched) return false;
    const { strength } = this.stroke.brush;
    if (strength !== 1) for (let i = 0; i < block.count; i++) out[i]! *= strength;
    return true;
  }

  /** Lays one dab over those before: what is covered stays covered. */
  private addDab(dab: number, { places, normals, count }: TexelBlock, out: Float32Array): void {
    const { centers, normals: up, radii, flows } = this.dabs;
    const [x, y, z] = places;
    const cx = centers[dab * 3]!;
    const cy = centers[dab * 3 + 1]!;
    const cz = centers[dab * 3 + 2]!;
    const nx = up[dab * 3]!;
    const ny = up[dab * 3 + 1]!;
    const nz = up[dab * 3 + 2]!;
    const r = radii[dab]!;
    const flow = flows[dab]!;
    const hard = Math.min(0.999, this.stroke.brush.hardness);
    const soft = 1 / (1 - hard);
    for (let i = 0; i < count; i++) {
      const dx = x[i]! - cx;
      const dy = y[i]! - cy;
      const dz = z[i]! - cz;
      const squared = dx * dx + dy * dy + dz * dz;
      if (squared >= r * r) continue;
      if (Math.abs(dx * nx + dy * ny + dz * nz) > r * DEPTH) continue;
      if (normals[i]! * nx + normals[TEXELS + i]! * ny + normals[TEXELS * 2 + i]! * nz < TURNED_AWAY) continue;
      const beyond = Math.max(0, (Math.sqrt(squared) / r - hard) * soft);
      const weight = 1 - beyond * beyond * (3 - 2 * beyond);
      out[i]! += (1 - out[i]!) * weight * flow;
    }
  }
}

const meets = (boxes: Float32Array, at: number, box: Float64Array): boolean =>
  boxes[at]! <= box[3]! &&
  boxes[at + 3]! >= box[0]! &&
  boxes[at + 1]! <= box[4]! &&
  boxes[at + 4]! >= box[1]! &&
  boxes[at + 2]! <= box[5]! &&
  boxes[at + 5]! >= box[2]!;

/** The box about the texels of a block. @param out told x, y, z of its lower and upper corner */
export function boxOfBlock({ places, count }: TexelBlock, out: Float64Array): void {
  for (let k = 0; k < 3; k++) {
    let low = Infinity;
    let high = -Infinity;
    const along = places[k]!;
    for (let i = 0; i < count; i++) {
      if (along[i]! < low) low = along[i]!;
      if (along[i]! > high) high = along[i]!;
    }
    out[k] = low;
    out[3 + k] = high;
  }
}
