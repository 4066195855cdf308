import { smoothStep } from '../image/planes.ts';

/**
 * Patterns that repeat by themselves, for whole numbers of columns and rows. All take a place of the tile, 0 to 1, y
 * downwards, and give 0 to 1; edges are softened over at least `step`, the distance to the next sample in tile widths.
 */

/** A number 0 to 1 for a cell of a pattern. */
export function cellNumber(column: number, row: number, seed: number): number {
  let h = (Math.imul(column, 0x27d4eb2d) ^ Math.imul(row, 0x165667b1) ^ Math.imul(seed, 0x9e3779b1)) >>> 0;
  h = Math.imul(h ^ (h >>> 15), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return ((h ^ (h >>> 16)) >>> 0) / 4294967296;
}

const fraction = (value: number): number => value - Math.floor(value);
const within = (value: number, size: number): number => ((value % size) + size) % size;

export interface BrickOptions {
  columns: number;
  rows: number;
  /** How far every other row is pushed, in bricks. */
  shift: number;
  /** Of the joint, as a share of a brick's height. */
  gap: number;
  /** How far a brick's edge slopes, as a share of its height. */
  bevel: number;
  /** How unlike bricks are in tone, 0 to 1. */
  variety: number;
  seed: number;
}

/** Bricks or slabs with joints: 0 in the joint. */
export function bricks(u: number, v: number, step: number, aspect: number, options: BrickOptions): number {
  const { columns, rows, shift, gap, bevel, variety, seed } = options;
  const row = Math.floor(v * rows);
  const x = u * columns + (row % 2 === 0 ? 0 : shift);
  const column = within(Math.floor(x), columns);
  // In heights of a brick.
  const long = rows / columns / aspect;
  const fromSide = (0.5 - Math.abs(fraction(x) - 0.5)) * long;
  const fromTop = 0.5 - Math.abs(fraction(v * rows) - 0.5);
  const soft = Math.max(bevel, (step * rows) / aspect);
  const edge = smoothStep(gap / 2 - soft / 2, gap / 2 + soft / 2, Math.min(fromSide, fromTop));
  return edge * (1 - variety * cellNumber(column, row, seed));
}

/** Scales in rows, each lying on the one below it, rounded at its lower end and highest there. */
export function scales(u: number, v: number, step: number, columns: number, rows: number): number {
  const row = Math.floor(v * rows);
  const down = v * rows - row;
  const isPushed = (row & 1) !== 0;
  const own = fraction(u * columns + (isPushed ? 0.5 : 0)) - 0.5;
  // The row above reaches into this one with its rounded ends.
  const above = fraction(u * columns + (isPushed ? 0 : 0.5)) - 0.5;
  const reach = 1.8 * Math.sqrt(0.25 - above * above);
  const soft = step * rows;
  const covered = 1 - smoothStep(reach - soft / 2, reach + soft / 2, down);
  return scaleHeight(above, 1 + down) * covered + scaleHeight(own, down) * (1 - covered);
}

/** @param x from its middle, in its widths @param y from its upper end, in rows, of which it covers two */
const scaleHeight = (x: number, y: number): number => 0.15 + 0.85 * (y / 2) * (1 - 1.2 * x * x);

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

/** Round dots, every other row pushed by half if they are staggered: 1 in a dot. */
export function dots(
  u: number,
  v: number,
  step: number,
  aspect: number,
  {
    columns,
    rows,
    size,
    staggered,
    soft,
  }: { columns: number; rows: number; size: number; staggered: boolean; soft: number },
): number {
  const row = Math.floor(v * rows);
  const x = fraction(u * columns + (staggered && row % 2 !== 0 ? 0.5 : 0)) - 0.5;
  const y = fraction(v * rows) - 0.5;
  // In tile widths.
  const far = Math.hypot(x / columns, (y / rows) * aspect);
  const radius = size / 2 / Math.max(columns, rows / aspect);
  const edge = Math.max(step, soft * radius);
  return 1 - smoothStep(radius - edge / 2, radius + edge / 2, far);
}

/** Lines of a grid: 1 on a line. */
export function grid(
  u: number,
  v: number,
  step: number,
  { columns, rows, line, soft }: { columns: number; rows: number; line: number; soft: number },
): number {
  const across = lineAt(u * columns, line, Math.max(step * columns, soft * line));
  return Math.max(across, lineAt(v * rows, line, Math.max(step * rows, soft * line)));
}

function lineAt(place: number, line: number, edge: number): number {
  const far = 0.5 - Math.abs(fraction(place) - 0.5);
  return 1 - smoothStep(line / 2 - edge / 2, line / 2 + edge / 2, far);
}

export const RAMP_WAYS = ['across', 'up', 'round', 'wave'] as const;

/** A gradient: straight, round about the middle, or up and down again so that it repeats. */
export function ramp(u: number, v: number, aspect: number, way: (typeof RAMP_WAYS)[number], times: number): number {
  switch (way) {
    case 'across':
      return fraction(u * times);
    case 'up':
      return fraction((1 - v) * times);
    case 'round':
      return Math.max(0, 1 - 2 * Math.hypot(u - 0.5, (v - 0.5) * aspect));
    case 'wave':
      return 0.5 - 0.5 * Math.cos(2 * Math.PI * u * times);
  }
}
