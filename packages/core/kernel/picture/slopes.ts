// Slopes of a height field, a texel, by an operator of three by three, and the normals that they make.
import { addressAt, floatAt, wholeAt } from '../numbers';
import { addSome } from './lanes';

/**
 * Slopes across of four texels.
 * @param above, here, below the texel before the first of them, in three rows
 * @param side, middle weights of the neighbours, and of the middle
 */
@inline
export function slopesAcross(above: usize, here: usize, below: usize, side: v128, middle: v128): v128 {
  const outer = f32x4.add(
    f32x4.sub(v128.load(above, 8), v128.load(above)),
    f32x4.sub(v128.load(below, 8), v128.load(below)),
  );
  const inner = f32x4.sub(v128.load(here, 8), v128.load(here));
  return f32x4.add(f32x4.mul(outer, side), f32x4.mul(inner, middle));
}

/** Slopes down the rows of four texels, as across. */
@inline
export function slopesDown(above: usize, below: usize, side: v128, middle: v128): v128 {
  const outer = f32x4.add(
    f32x4.sub(v128.load(below), v128.load(above)),
    f32x4.sub(v128.load(below, 8), v128.load(above, 8)),
  );
  const inner = f32x4.sub(v128.load(below, 4), v128.load(above, 4));
  return f32x4.add(f32x4.mul(outer, side), f32x4.mul(inner, middle));
}

/**
 * Adds the slopes of one row of a picture that is drawn out by a texel at all sides.
 * Numbers: the picture's corner outside, bytes from row to row, width within, what slopes across are added to or 0, what
 * slopes down are added to or 0, weight of the neighbours, of the middle, factor of slopes down in the first and in the
 * last row, rows, factor of slopes across in the first and the last column.
 */
export function slopesOfRow(numbers: usize, task: i32): void {
  const row = addressAt(numbers, 1);
  const above = addressAt(numbers, 0) + <usize>task * row;
  const here = above + row;
  const below = here + row;
  const side = f32x4.splat(floatAt(numbers, 5));
  const middle = f32x4.splat(floatAt(numbers, 6));
  const bytes = <usize>wholeAt(numbers, 2) << 2;
  if (addressAt(numbers, 3) !== 0) {
    const out = addressAt(numbers, 3) + <usize>task * bytes;
    for (let x: usize = 0; x < bytes; x += 16) {
      addSome(out + x, slopesAcross(above + x, here + x, below + x, side, middle), <i32>((bytes - x) >> 2));
    }
    const factor = floatAt(numbers, 10);
    store<f32>(out, load<f32>(out) * factor);
    store<f32>(out + bytes - 4, load<f32>(out + bytes - 4) * factor);
  }
  if (addressAt(numbers, 4) !== 0) {
    const out = addressAt(numbers, 4) + <usize>task * bytes;
    const ends = f32x4.splat(factorOfRow(numbers, task));
    for (let x: usize = 0; x < bytes; x += 16) {
      const slope = f32x4.mul(slopesDown(above + x, below + x, side, middle), ends);
      addSome(out + x, slope, <i32>((bytes - x) >> 2));
    }
  }
}

/** What slopes down are multiplied by in a row: at a border that does not repeat, the step is but one texel long. */
@inline
function factorOfRow(numbers: usize, task: i32): f32 {
  let factor: f32 = 1;
  if (task === 0) factor = floatAt(numbers, 7);
  if (task === wholeAt(numbers, 9) - 1) factor *= floatAt(numbers, 8);
  return factor;
}

/**
 * Normals of one row of a picture that is drawn out by a texel at all sides, three numbers from 0 to 1 for each texel.
 * Numbers: as for slopes, but for the third and the fourth: told the normals, and bytes from row to row of them, which
 * have room for a multiple of four texels; then what slopes across and down are multiplied by to be the normal's x and y.
 */
export function normalsOfRow(numbers: usize, task: i32): void {
  const row = addressAt(numbers, 1);
  const above = addressAt(numbers, 0) + <usize>task * row;
  const here = above + row;
  const below = here + row;
  const side = f32x4.splat(floatAt(numbers, 5));
  const middle = f32x4.splat(floatAt(numbers, 6));
  const bytes = <usize>wholeAt(numbers, 2) << 2;
  const scaleX = f32x4.splat(floatAt(numbers, 11));
  const scaleY = f32x4.splat(floatAt(numbers, 12) * factorOfRow(numbers, task));
  let out = addressAt(numbers, 3) + <usize>task * addressAt(numbers, 4);
  const first = out;
  for (let x: usize = 0; x < bytes; x += 16) {
    const nx = f32x4.mul(slopesAcross(above + x, here + x, below + x, side, middle), scaleX);
    const ny = f32x4.mul(slopesDown(above + x, below + x, side, middle), scaleY);
    storeNormals(out, nx, ny);
    out += 48;
  }
  const factor = floatAt(numbers, 10);
  if (factor === 1) return;
  for (let x: usize = 0; x < bytes; x += max<usize>(4, bytes - 4)) {
    const nx = f32x4.mul(slopesAcross(above + x, here + x, below + x, side, middle), scaleX);
    const ny = f32x4.mul(slopesDown(above + x, below + x, side, middle), scaleY);
    storeNormal(first + x * 3, f32x4.extract_lane(nx, 0) * factor, f32x4.extract_lane(ny, 0));
  }
}

/** Four normals by what leans of them, one upwards, as numbers from 0 to 1. */
@inline
function storeNormals(out: usize, nx: v128, ny: v128): void {
  const half = f32x4.splat(0.5);
  const square = f32x4.add(f32x4.add(f32x4.mul(nx, nx), f32x4.mul(ny, ny)), f32x4.splat(1));
  const inverse = f32x4.div(half, f32x4.sqrt(square));
  const x = f32x4.add(f32x4.mul(nx, inverse), half);
  const y = f32x4.add(f32x4.mul(ny, inverse), half);
  const z = f32x4.add(inverse, half);
  // x0 y0 x1 y1, then z between them.
  const low = v128.shuffle<f32>(x, y, 0, 4, 1, 5);
  const high = v128.shuffle<f32>(x, y, 2, 6, 3, 7);
  v128.store(out, v128.shuffle<f32>(low, z, 0, 1, 4, 2));
  v128.store(out, v128.shuffle<f32>(v128.shuffle<f32>(low, z, 3, 5, 0, 0), high, 0, 1, 4, 5), 16);
  v128.store(out, v128.shuffle<f32>(high, z, 6, 2, 3, 7), 32);
}

function storeNormal(out: usize, nx: f32, ny: f32): void {
  const inverse = <f32>0.5 / sqrt<f32>(nx * nx + ny * ny + 1);
  store<f32>(out, nx * inverse + 0.5);
  store<f32>(out, ny * inverse + 0.5, 4);
  store<f32>(out, inverse + 0.5, 8);
}
