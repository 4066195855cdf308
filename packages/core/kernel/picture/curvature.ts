// Mean curvature of a height field: half the divergence of its unit normal, by Scharr's operator twice.
import { addressAt, floatAt, wholeAt } from '../numbers';
import { slopesAcross, slopesDown } from './slopes';

const SIDE: f32 = 3.0 / 32.0;
const MIDDLE: f32 = 10.0 / 32.0;

/**
 * Curvature of one row of a picture that is drawn out by two texels above and below and by one at the sides.
 * Numbers: the picture's corner outside, bytes from row to row, width within, what curvature is told to, the number of the
 * first row in the whole picture, rows of that, whether it repeats, factor of slopes, factor of slopes across at each
 * column, what half the divergence is multiplied by, what is added to it, whether it is kept between 0 and 1.
 * @param room six rows of width and eight more floats
 */
export function curvatureOfRow(numbers: usize, task: i32, room: usize): void {
  const width = <usize>wholeAt(numbers, 2) << 2;
  const y = wholeAt(numbers, 4) + task;
  const height = wholeAt(numbers, 5);
  const repeats = wholeAt(numbers, 6) !== 0;
  const doublings = addressAt(numbers, 8);
  const line = width + 32;
  // Beyond a border that does not repeat, normals are like those at the border itself.
  const above = repeats || y > 0 ? task - 1 : task;
  const below = repeats || y < height - 1 ? task + 1 : task;
  const first = room + 16;
  normalsOfLine(numbers, above, first, first + line);
  normalsOfLine(numbers, task, first + 2 * line, first + 3 * line);
  normalsOfLine(numbers, below, first + 4 * line, first + 5 * line);
  const side = f32x4.splat(SIDE);
  const middle = f32x4.splat(MIDDLE);
  const ends = f32x4.splat(factorDown(y, height, repeats));
  const times = f32x4.splat(floatAt(numbers, 9) * 0.5);
  const plus = f32x4.splat(floatAt(numbers, 10));
  const isKept = wholeAt(numbers, 11) !== 0;
  const out = addressAt(numbers, 3) + <usize>task * ((width + 15) & ~15);
  for (let x: usize = 0; x < width; x += 16) {
    const left = first + x - 4;
    const across = slopesAcross(left, left + 2 * line, left + 4 * line, side, middle);
    const down = slopesDown(left + line, left + 5 * line, side, middle);
    const spread = f32x4.add(f32x4.mul(across, v128.load(doublings + x)), f32x4.mul(down, ends));
    let curvature = f32x4.add(f32x4.mul(spread, times), plus);
    if (isKept) curvature = f32x4.pmin(f32x4.splat(1), f32x4.pmax(f32x4.splat(0), curvature));
    v128.store(out + x, curvature);
  }
}

/** How far the unit normals of one row lean across and down, and those of one texel more at both sides. */
function normalsOfLine(numbers: usize, row: i32, across: usize, down: usize): void {
  const stride = addressAt(numbers, 1);
  const width = <usize>wholeAt(numbers, 2) << 2;
  const height = wholeAt(numbers, 5);
  const repeats = wholeAt(numbers, 6) !== 0;
  const doublings = addressAt(numbers, 8);
  const scale = floatAt(numbers, 7);
  const above = addressAt(numbers, 0) + <usize>(row + 1) * stride;
  const here = above + stride;
  const below = here + stride;
  const side = f32x4.splat(SIDE);
  const middle = f32x4.splat(MIDDLE);
  const acrossScale = f32x4.splat(scale);
  const downScale = f32x4.splat(scale * factorDown(wholeAt(numbers, 4) + row, height, repeats));
  const one = f32x4.splat(1);
  for (let x: usize = 0; x < width; x += 16) {
    const ends = f32x4.mul(v128.load(doublings + x), acrossScale);
    const sx = f32x4.mul(slopesAcross(above + x, here + x, below + x, side, middle), ends);
    const sy = f32x4.mul(slopesDown(above + x, below + x, side, middle), downScale);
    const square = f32x4.add(f32x4.add(f32x4.mul(sx, sx), f32x4.mul(sy, sy)), one);
    const inverse = f32x4.div(f32x4.splat(-1), f32x4.sqrt(square));
    v128.store(across + x, f32x4.mul(sx, inverse));
    v128.store(down + x, f32x4.mul(sy, inverse));
  }
  const last = width - 4;
  store<f32>(across - 4, load<f32>(across + (repeats ? last : 0)));
  store<f32>(down - 4, load<f32>(down + (repeats ? last : 0)));
  store<f32>(across + width, load<f32>(across + (repeats ? 0 : last)));
  store<f32>(down + width, load<f32>(down + (repeats ? 0 : last)));
}

/** At a border that does not repeat, the step is but one texel long. */
@inline
function factorDown(y: i32, height: i32, repeats: bool): f32 {
  return !repeats && (y === 0 || y === height - 1) ? 2 : 1;
}
