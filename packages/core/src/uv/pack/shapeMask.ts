import type { IslandShape } from './islandShape.ts';

/** The cells that a shape touches, as rows of bits. */
export interface ShapeMask {
  width: number;
  height: number;
  /** Words of 32 cells in each row. */
  words: number;
  bits: Uint32Array;
}

/** Quarter turns, counter-clockwise. */
export type Turns = 0 | 1 | 2 | 3;

/** Cells are touched a little beyond what is computed. */
const ROUNDING = 1e-6;

/**
 * Draws a shape conservatively: every cell that it touches, even at a corner, is set.
 * @param scale cells for each unit of the shape
 */
export function drawShape(shape: IslandShape, scale: number, turns: Turns): ShapeMask {
  const [across, up] = turns % 2 === 0 ? [shape.width, shape.height] : [shape.height, shape.width];
  const width = Math.max(1, Math.ceil(across * scale + ROUNDING));
  const height = Math.max(1, Math.ceil(up * scale + ROUNDING));
  const words = Math.ceil(width / 32);
  const mask: ShapeMask = { width, height, words, bits: new Uint32Array(words * height) };
  const x = new Float64Array(3);
  const y = new Float64Array(3);
  for (let i = 0; i < shape.corners.length; i += 6) {
    for (let c = 0; c < 3; c++) {
      const [px, py] = turned(shape, shape.corners[i + c * 2]!, shape.corners[i + c * 2 + 1]!, turns);
      x[c] = px * scale;
      y[c] = py * scale;
    }
    drawTriangle(mask, x, y);
  }
  return mask;
}

/** A place of a shape after quarter turns, again from 0 up. */
export function turned({ width, height }: IslandShape, x: number, y: number, turns: Turns): [x: number, y: number] {
  if (turns === 1) return [height - y, x];
  if (turns === 2) return [width - x, height - y];
  return turns === 3 ? [y, width - x] : [x, y];
}

function drawTriangle(mask: ShapeMask, x: Float64Array, y: Float64Array): void {
  const first = Math.max(0, Math.floor(Math.min(y[0]!, y[1]!, y[2]!) - ROUNDING));
  const last = Math.min(mask.height - 1, Math.floor(Math.max(y[0]!, y[1]!, y[2]!) + ROUNDING));
  for (let row = first; row <= last; row++) {
    // What of the triangle lies within the row: corners in it, and cuts with its two lines.
    let [from, to] = [Infinity, -Infinity];
    for (let e = 0; e < 3; e++) {
      const n = e === 2 ? 0 : e + 1;
      const [px, py, qx, qy] = [x[e]!, y[e]!, x[n]!, y[n]!];
      const low = Math.max(row, Math.min(py, qy));
      const high = Math.min(row + 1, Math.max(py, qy));
      if (low > high + ROUNDING) continue;
      const slope = py === qy ? 0 : (qx - px) / (qy - py);
      const [a, b] = py === qy ? [px, qx] : [px + (low - py) * slope, px + (high - py) * slope];
      from = Math.min(from, a, b);
      to = Math.max(to, a, b);
    }
    if (from > to) continue;
    const x0 = Math.max(0, Math.floor(from - ROUNDING));
    const x1 = Math.min(mask.width - 1, Math.floor(to + ROUNDING));
    setRun(mask.bits, row * mask.words, x0, x1);
  }
}

/** Sets the bits of a row from one place to another, both included. */
export function setRun(bits: Uint32Array, row: number, from: number, to: number): void {
  if (from > to) return;
  const first = row + (from >>> 5);
  const last = row + (to >>> 5);
  const head = 0xffffffff << (from & 31);
  const tail = 0xffffffff >>> (31 - (to & 31));
  if (first === last) {
    bits[first]! |= head & tail;
    return;
  }
  bits[first]! |= head;
  bits.fill(0xffffffff, first + 1, last);
  bits[last]! |= tail;
}
