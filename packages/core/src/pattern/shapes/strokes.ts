import { smoothStep } from '../../image/planes.ts';
import { randomNumbers } from '../../math/randomNumbers.ts';
import { wrapped } from '../../image/sample.ts';
import { ofElements, type Pattern } from '../batch.ts';
import { elementRandom, type ElementVariation } from './elements.ts';

/** Fine lines strewn over a tile: scratches or fibres. Lengths are in tile widths, angles in degrees. */
export interface StrokeOptions {
  count: number;
  length: number;
  width: number;
  /** 0 draws straight lines, 1 turns them by up to a whole turn along their length. */
  curl: number;
  /** Of which way they mostly run, counter-clockwise from the right. */
  direction: number;
  /** 0 makes all run that way, 1 any way. */
  spread: number;
  variation: ElementVariation;
  seed: number;
}

/** Pieces are this much of the tile's width long, at most: short enough for curves to be round. */
const PIECE = 1 / 48;
/** Cells across the tile at most in which pieces are looked up. */
const MOST_CELLS = 512;

/** Pieces of all strokes: ends relative to the first, the share of the stroke at it and over it, the stroke's number. */
interface Pieces {
  x: Float32Array;
  y: Float32Array;
  dx: Float32Array;
  dy: Float32Array;
  from: Float32Array;
  share: Float32Array;
  stroke: Uint32Array;
}

/**
 * Scratches: 1 in the middle of a line, fading to its ends. Where lines cross, the strongest is seen.
 * @param step distance between samples, in tile widths @param aspect height over width of the tile
 */
export const scratches = (step: number, aspect: number, options: StrokeOptions): Required<Pattern> =>
  strokes(
    step,
    aspect,
    options,
    (side, along) => (1 - smoothStep(0, 1, side)) * Math.min(1, 6 * along, 6 * (1 - along)),
  );

/**
 * Round fibres that lie on each other: 0 is the ground. Each keeps its height along its length.
 * @param step distance between samples, in tile widths @param aspect height over width of the tile
 */
export const fibres = (step: number, aspect: number, options: StrokeOptions): Required<Pattern> =>
  strokes(step, aspect, options, (side, along, stroke) => {
    const round = Math.sqrt(Math.max(0, 1 - side * side)) * Math.min(1, 12 * along, 12 * (1 - along));
    return ((0.5 * (stroke + 1)) / options.count + 0.5) * round;
  });

const TONE = 0;

/** @param profile of a stroke, 0 to 1: so far from its middle to its side, 0 to 1, where so much of its length lies behind */
function strokes(
  step: number,
  aspect: number,
  options: StrokeOptions,
  profile: (side: number, along: number, stroke: number) => number,
): Required<Pattern> {
  const { variation, seed } = options;
  const width = Math.max(options.width, step);
  // What is finer than the samples grows fainter instead of broken.
  const strength = Math.min(1, options.width / step);
  const pieces = piecesOf(options, aspect);
  const across = Math.max(1, Math.min(MOST_CELLS, Math.ceil(Math.sqrt(pieces.x.length)), Math.floor(2 / width)));
  const up = Math.max(1, Math.round(across * aspect));
  const { starts, items } = lookedUp(pieces, width / 2, across, up, aspect);
  return ofElements((u, v, place) => {
    place.value = 0;
    place.element = 0;
    const y = v * aspect;
    const cell = Math.min(up - 1, Math.floor(v * up)) * across + Math.min(across - 1, Math.floor(u * across));
    for (let at = starts[cell]!; at < starts[cell + 1]!; at++) {
      const k = items[at]!;
      // The piece as near as it comes in the repeated tile.
      let px = u - pieces.x[k]!;
      px -= Math.round(px);
      let py = y - pieces.y[k]!;
      py -= aspect * Math.round(py / aspect);
      const [dx, dy] = [pieces.dx[k]!, pieces.dy[k]!];
      const t = Math.max(0, Math.min(1, (px * dx + py * dy) / (dx * dx + dy * dy)));
      const far = Math.hypot(px - t * dx, py - t * dy);
      if (far >= width / 2) continue;
      const stroke = pieces.stroke[k]!;
      const shown = profile(far / (width / 2), pieces.from[k]! + t * pieces.share[k]!, stroke) * strength;
      const value = shown * (1 - variation.tone * elementRandom(stroke, TONE, seed));
      if (value > place.value) {
        place.value = value;
        place.element = stroke + 1;
      }
    }
  });
}

function piecesOf({ count, length, curl, direction, spread, variation, seed }: StrokeOptions, aspect: number): Pieces {
  const each = Math.max(1, Math.ceil(length / PIECE));
  const all = count * each;
  const array = (): Float32Array => new Float32Array(all);
  const pieces: Pieces = {
    ...{ x: array(), y: array(), dx: array(), dy: array(), from: array(), share: array() },
    stroke: new Uint32Array(all),
  };
  const random = randomNumbers(seed);
  let k = 0;
  for (let stroke = 0; stroke < count; stroke++) {
    let [x, y] = [random(), random() * aspect];
    // Downwards is positive in rows.
    let heading = (-direction * Math.PI) / 180 + (random() - 0.5) * spread * Math.PI;
    const bend = (random() - 0.5) * 2 * curl * Math.PI;
    const sway = random() * 2 * Math.PI;
    const own = length * (1 - variation.offset * 0.9 * random());
    for (let i = 0; i < each; i++) {
      heading += bend * (1 / each) + curl * Math.cos(sway + (i / each) * 9) * (3 / each);
      const [dx, dy] = [(Math.cos(heading) * own) / each, (Math.sin(heading) * own) / each];
      pieces.x[k] = x;
      pieces.y[k] = y;
      pieces.dx[k] = dx;
      pieces.dy[k] = dy;
      pieces.from[k] = i / each;
      pieces.share[k] = 1 / each;
      pieces.stroke[k] = stroke;
      x += dx;
      y += dy;
      k++;
    }
  }
  return pieces;
}

/** Which pieces are seen in which cell of a repeating lattice over the tile: those of a cell follow each other. */
function lookedUp(
  { x, y, dx, dy }: Pieces,
  reach: number,
  across: number,
  up: number,
  aspect: number,
): { starts: Uint32Array; items: Uint32Array } {
  const starts = new Uint32Array(across * up + 1);
  const eachCell = (k: number, visit: (cell: number) => void): void => {
    const left = Math.floor((Math.min(x[k]!, x[k]! + dx[k]!) - reach) * across);
    const right = Math.floor((Math.max(x[k]!, x[k]! + dx[k]!) + reach) * across);
    const top = Math.floor(((Math.min(y[k]!, y[k]! + dy[k]!) - reach) / aspect) * up);
    const bottom = Math.floor(((Math.max(y[k]!, y[k]! + dy[k]!) + reach) / aspect) * up);
    // A piece that reaches round the tile is in each of its cells once.
    for (let row = top; row <= Math.min(bottom, top + up - 1); row++) {
      for (let column = left; column <= Math.min(right, left + across - 1); column++) {
        visit(wrapped(row, up, 'repeat') * across + wrapped(column, across, 'repeat'));
      }
    }
  };
  for (let k = 0; k < x.length; k++) eachCell(k, (cell) => starts[cell + 1]!++);
  for (let cell = 0; cell < across * up; cell++) starts[cell + 1]! += starts[cell]!;
  const items = new Uint32Array(starts[across * up]!);
  const next = starts.slice(0, -1);
  for (let k = 0; k < x.length; k++) eachCell(k, (cell) => (items[next[cell]!++] = k));
  return { starts, items };
}
