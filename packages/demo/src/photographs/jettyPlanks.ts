import { randomNumbers } from '@zographos/core/math';
import { smoothStep } from '@zographos/core/image';
import { photograph } from './photograph.ts';
import { between, drawnOut, grainOf, planeOf } from './planes.ts';

const SIZE = { width: 1200, height: 1500 };
/** Boards across the picture, which begins and ends within one. */
const BOARDS = 6.4;

const WOOD = [
  [0.07, 0.058, 0.047],
  [0.17, 0.148, 0.122],
  [0.29, 0.262, 0.225],
  [0.4, 0.37, 0.32],
] as const;
const RUST = [0.075, 0.04, 0.024] as const;

/** Boards of a jetty, grey from the weather: grain with knots, gaps, butt joints with rusty nails, in an overcast sky. */
export function jettyPlanks(): Promise<Uint8Array> {
  const { width, height: rows } = SIZE;
  const fibres = drawnOut(SIZE, { scale: 150, octaves: 3, gain: 0.65, seed: 41 }, 40);
  const bend = drawnOut(SIZE, { scale: 9, octaves: 3, seed: 42 }, 5);
  const patches = planeOf(SIZE, { scale: 5, octaves: 6, gain: 0.58, seed: 43 }, 1 / 2);
  const rough = planeOf(SIZE, { scale: 50, octaves: 4, gain: 0.6, seed: 44 }, 1 / 2);
  const grain = grainOf(SIZE, 45);
  const boards = boardsOf(Math.ceil(BOARDS) + 1);
  const heights = new Float32Array(width * rows);
  const albedo = new Float32Array(width * rows * 3);
  for (let y = 0, at = 0; y < rows; y++) {
    for (let x = 0; x < width; x++, at++) {
      const across = (x / width) * BOARDS + 0.35 + 0.02 * (bend[at]! - 0.5);
      const board = boards[Math.floor(across)]!;
      const inside = across - Math.floor(across);
      const v = (y / rows) * 1.25;
      const piece = Math.floor(v + board.shift);
      const along = v + board.shift - piece;
      // Distances to the long edges and to the ends, in widths of a board.
      const edge = Math.min(inside, 1 - inside) + 0.015 * (rough[at]! - 0.5);
      const end = Math.min(along, 1 - along) * 6.5 + 0.02 * (rough[at]! - 0.5);
      const top = smoothStep(0.012, 0.03, edge) * smoothStep(0.006, 0.02, end);
      const worn = smoothStep(0.0, 0.1, Math.min(edge, end));
      // Years: rings of the trunk, cut lengthwise, and pushed aside by a knot.
      const tone = board.tones[((piece % 4) + 4) % 4]!;
      const knot = board.knots.reduce((sum, [ku, kv]) => {
        const far = Math.hypot((inside - ku) * 1.1, (v - kv) * 3.2);
        return sum + Math.exp(-(far * far) / 0.012);
      }, 0);
      const own = inside * 1.6 + tone * 9 + 1.5 * (bend[at]! - 0.5) + 0.9 * Math.sqrt(knot);
      const years = 0.5 + 0.5 * Math.sin(own * 34);
      const late = years ** 3;
      const check = smoothStep(0.7, 0.78, fibres[at]!) * smoothStep(0.5, 0.62, patches[at]!);
      const [nailed, rust] = nailAt(inside + 0.09 * (tone - 0.5), along);
      heights[at] =
        top * (16 + 3 * worn + 1.2 * late + 2.4 * (fibres[at]! - 0.5) - 3 * check + 3 * (tone - 0.5)) +
        1.1 * (grain[at]! - 0.5) +
        1.4 * nailed;
      const light = 0.36 + 0.42 * tone + 0.55 * (fibres[at]! - 0.5) + 0.6 * (patches[at]! - 0.5) - 0.26 * late;
      const dark = (1 - 0.5 * Math.min(1, knot)) * (1 - 0.45 * check);
      for (let c = 0; c < 3; c++) {
        const wood = between(WOOD, light, c) * dark * (1 + 0.7 * (grain[at]! - 0.5) + 0.5 * (rough[at]! - 0.5));
        const stained = wood + (RUST[c]! - wood) * Math.max(nailed, rust * (0.3 + 0.5 * fibres[at]!));
        albedo[at * 3 + c] = Math.max(0.008, 0.02 + (stained - 0.02) * top);
      }
    }
  }
  return photograph(
    SIZE,
    { heights, albedo },
    { sun: { azimuth: 300, elevation: 50 }, sky: 0.7, fallOff: { amount: 0.3, towards: 180 }, noise: 0.02, seed: 12 },
  );
}

interface Board {
  /** How far its joints are along, in pieces. */
  shift: number;
  tones: readonly number[];
  knots: readonly (readonly [number, number])[];
}

function boardsOf(count: number): Board[] {
  const random = randomNumbers(47);
  return Array.from({ length: count }, (_, i) => ({
    shift: ((i * 0.382) % 1) + 0.1 * random(),
    tones: [random(), random(), random(), random()],
    knots: random() < 0.6 ? [[0.2 + 0.6 * random(), 0.05 + 1.1 * random()] as const] : [],
  }));
}

/** How much of a nail's head is here, and of the rust that runs from it. */
function nailAt(inside: number, along: number): [head: number, rust: number] {
  const u = Math.min(Math.abs(inside - 0.2), Math.abs(inside - 0.8));
  const toEnd = Math.min(along, 1 - along) * 6.5 - 0.14;
  const far = Math.hypot(u, toEnd);
  return [1 - smoothStep(0.028, 0.04, far), Math.exp(-(u * u) / 0.0016) * Math.exp(-Math.abs(toEnd) / 0.3)];
}
