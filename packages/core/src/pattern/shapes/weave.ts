import { smoothStep } from '../../image/planes.ts';
import { fraction } from './fraction.ts';

export interface WeaveOptions {
  columns: number;
  rows: number;
  /** Of a thread, as a share of its room. */
  thickness: number;
  /** How many threads each passes over, and then under. */
  over: number;
}

/** Cloth: warp and weft pass over and under each other; 0 is the bottom between threads. */
export function weave(u: number, v: number, step: number, options: WeaveOptions): number {
  const { columns, rows, thickness, over } = options;
  const [x, y] = [u * columns, v * rows];
  const [column, row] = [Math.floor(x), Math.floor(y)];
  // A thread rises and sinks as a wave, highest in the middle of what it passes over.
  const turn = Math.PI / over;
  const warp = threadHeight(fraction(x), thickness, Math.sin(turn * (y - column)), step * columns);
  const weft = threadHeight(fraction(y), thickness, -Math.sin(turn * (x - row + over - 1)), step * rows);
  return Math.max(warp, weft);
}

/** @param across its room, 0 to 1 @param wave how far it is up, −1 to 1 */
function threadHeight(across: number, thickness: number, wave: number, soft: number): number {
  const side = Math.abs(across - 0.5) / (thickness / 2);
  const round = Math.sqrt(Math.max(0, 1 - side * side));
  return round * (0.55 + 0.45 * wave) * (1 - smoothStep(1 - soft, 1, side));
}
