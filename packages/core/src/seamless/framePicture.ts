import type { Size } from '../math/size.ts';
import { ZographosError } from '../errors.ts';
import type { Image } from '../image/image.ts';
import { halve } from '../image/filter/halve.ts';
import { wrapped } from '../image/sample.ts';
import { separably } from '../image/filter/separable.ts';
import { tapsOf, type Taps } from '../image/filter/taps.ts';

export type Corner = readonly [x: number, y: number];

/** Four corners in shares of a picture, y downwards: upper left, upper right, lower right, lower left. */
export type Corners = readonly [Corner, Corner, Corner, Corner];

export const WHOLE_PICTURE: Corners = [
  [0, 0],
  [1, 0],
  [1, 1],
  [0, 1],
];

/**
 * Takes what lies between four corners of a picture and lays it out as a rectangle: it crops, turns, and takes out the
 * perspective of a surface seen aslant. Cubic between texels, and no texel is lost where the picture becomes smaller. A
 * frame that meets texels as they are leaves them as they are.
 * @throws input/bad-settings for corners that do not go round a shape without a dent
 */
export function framePicture(image: Image, corners: Corners, size: Size): Image {
  requireConvex(corners);
  const map = projective(corners);
  let source = image;
  // Halved until a step of the result is less than two texels at the place where it is longest.
  while (Math.min(source.width, source.height) > 1 && longestStep(map, source, size) >= 2) source = halve(source);
  const times = longestStep(map, source, size) > 1.001 ? 2 : 1;
  return isUpright(corners) ? alongAxes(source, corners, size, times) : freely(source, map, size, times);
}

/** How long what lies between four corners is across and up, in texels: the mean of both sides. */
export function framedSides({ width, height }: Size, corners: Corners): [across: number, up: number] {
  const side = (a: number, b: number): number =>
    Math.hypot((corners[a]![0] - corners[b]![0]) * width, (corners[a]![1] - corners[b]![1]) * height);
  return [(side(0, 1) + side(3, 2)) / 2, (side(0, 3) + side(1, 2)) / 2];
}

/** Sides that run along the picture's own can be gone through one axis at a time. */
const isUpright = ([a, b, c, d]: Corners): boolean => a[1] === b[1] && c[1] === d[1] && a[0] === d[0] && b[0] === c[0];

const alongAxes = (source: Image, [first, , third]: Corners, size: Size, times: number): Image =>
  separably(
    source,
    size,
    cubicTaps(size.width, source.width, first[0], third[0], times),
    cubicTaps(size.height, source.height, first[1], third[1], times),
  );

/** What each of `length` texels takes of an axis with `along` texels, between two shares of it. */
function cubicTaps(length: number, along: number, from: number, to: number, times: number): Taps {
  const [places, weights] = [new Int32Array(4), new Float64Array(4)];
  return tapsOf(length, (x, take) => {
    for (let s = 0; s < times; s++) {
      const share = (x + (s + 0.5) / times) / length;
      weigh((from + (to - from) * share) * along - 0.5, along, places, weights);
      for (let k = 0; k < 4; k++) take(places[k]!, weights[k]! / times);
    }
  });
}

function freely(source: Image, map: Float64Array, size: Size, times: number): Image {
  const { width, height, channels } = source;
  const data = new Float32Array(size.width * size.height * channels);
  const [columns, rows] = [new Int32Array(4), new Int32Array(4)];
  const [wx, wy] = [new Float64Array(4), new Float64Array(4)];
  const share = 1 / (times * times);
  for (let y = 0; y < size.height; y++) {
    for (let x = 0; x < size.width; x++) {
      const to = (y * size.width + x) * channels;
      for (let s = 0; s < times * times; s++) {
        const u = (x + ((s % times) + 0.5) / times) / size.width;
        const v = (y + (Math.floor(s / times) + 0.5) / times) / size.height;
        const w = map[6]! * u + map[7]! * v + 1;
        weigh(((map[0]! * u + map[1]! * v + map[2]!) / w) * width - 0.5, width, columns, wx);
        weigh(((map[3]! * u + map[4]! * v + map[5]!) / w) * height - 0.5, height, rows, wy);
        for (let j = 0; j < 4; j++) {
          if (wy[j] === 0) continue;
          const row = rows[j]! * width;
          for (let i = 0; i < 4; i++) {
            const weight = wx[i]! * wy[j]! * share;
            if (weight === 0) continue;
            const at = (row + columns[i]!) * channels;
            for (let c = 0; c < channels; c++) data[to + c]! += source.data[at + c]! * weight;
          }
        }
      }
    }
  }
  return { ...source, width: size.width, height: size.height, data };
}

/** Catmull and Rom's four weights about a place; a place on a texel gets that texel alone. */
function weigh(place: number, size: number, at: Int32Array, weights: Float64Array): void {
  const first = Math.floor(place + 1e-7);
  const t = Math.max(0, place - first);
  for (let i = 0; i < 4; i++) at[i] = wrapped(first - 1 + i, size, 'clamp');
  if (t < 1e-6) {
    weights.fill(0);
    weights[1] = 1;
    return;
  }
  weights[0] = t * (-0.5 + t * (1 - 0.5 * t));
  weights[1] = 1 + t * t * (-2.5 + 1.5 * t);
  weights[2] = t * (0.5 + t * (2 - 1.5 * t));
  weights[3] = t * t * (-0.5 + 0.5 * t);
}

/**
 * The projective map that takes the unit square to four corners (Heckbert, "Fundamentals of Texture Mapping and Image
 * Warping", 1989, section 2.2.3), as its eight coefficients, row by row.
 */
function projective([[x0, y0], [x1, y1], [x2, y2], [x3, y3]]: Corners): Float64Array {
  const [dx1, dx2, sx] = [x1 - x2, x3 - x2, x0 - x1 + x2 - x3];
  const [dy1, dy2, sy] = [y1 - y2, y3 - y2, y0 - y1 + y2 - y3];
  const det = dx1 * dy2 - dx2 * dy1;
  const g = (sx * dy2 - dx2 * sy) / det;
  const h = (dx1 * sy - sx * dy1) / det;
  return Float64Array.of(x1 - x0 + g * x1, x3 - x0 + h * x3, x0, y1 - y0 + g * y1, y3 - y0 + h * y3, y0, g, h);
}

/** The longest way in the picture that one step of the result takes, in texels, looked for at the corners and between. */
function longestStep(map: Float64Array, source: Size, size: Size): number {
  const at = (u: number, v: number): [number, number] => {
    const w = map[6]! * u + map[7]! * v + 1;
    return [
      ((map[0]! * u + map[1]! * v + map[2]!) / w) * source.width,
      ((map[3]! * u + map[4]! * v + map[5]!) / w) * source.height,
    ];
  };
  let longest = 0;
  for (const v of [0, 0.5, 1]) {
    for (const u of [0, 0.5, 1]) {
      const [du, dv] = [1e-4 * (u > 0.5 ? -1 : 1), 1e-4 * (v > 0.5 ? -1 : 1)];
      const [here, right, down] = [at(u, v), at(u + du, v), at(u, v + dv)];
      const across = Math.hypot(right[0] - here[0], right[1] - here[1]) / 1e-4 / size.width;
      const along = Math.hypot(down[0] - here[0], down[1] - here[1]) / 1e-4 / size.height;
      longest = Math.max(longest, across, along);
    }
  }
  return longest;
}

function requireConvex(corners: Corners): void {
  const turns = corners.map(([x, y], i) => {
    const [bx, by] = corners[(i + 1) % 4]!;
    const [cx, cy] = corners[(i + 2) % 4]!;
    return (bx - x) * (cy - by) - (by - y) * (cx - bx);
  });
  if (turns.every((turn) => turn > 1e-9)) return;
  throw new ZographosError(
    'input/bad-settings',
    'The four corners of the frame cross each other or lie on a line. Put them back to the corners of the picture.',
  );
}
