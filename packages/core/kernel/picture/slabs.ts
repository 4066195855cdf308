// Pictures of one channel that are walked through from the top down: in slabs of columns, each row by row, so that what is
// walked along lies together. The columns may be the rows of the picture that is laid in.
import { addressAt, floatAt, wholeAt } from '../numbers';
import { addSome, turn } from './lanes';

/**
 * Columns of a slab. Each has four more at either side, which are read and written where four lines run across a side, and
 * there are eight columns at either side of the picture. Mirrored by src/derive/slabs.ts.
 */
const SLAB = 64;
const BESIDE = 4;
const MARGIN = 8;
const WIDE = SLAB + 2 * BESIDE;
/** Bytes of a row of a slab. */
export const ROW: usize = WIDE << 2;
/** Where the first column of the picture lies in a row of all slabs. */
const FIRST = BESIDE + MARGIN;
/** Rows of a task. */
const ROWS = 16;

/** The four texels from a column on in the first row of a picture in slabs. */
@inline
export function columnsAt(picture: usize, slab: usize, x: i32): usize {
  const place = x + MARGIN;
  return picture + <usize>(place / SLAB) * slab + (<usize>((place & (SLAB - 1)) + BESIDE) << 2);
}

/**
 * Lays sixteen rows of a picture into slabs.
 * Numbers: the picture, the slabs, width and height as it is walked through, whether it repeats, whether its rows are the
 * columns of the picture, slabs, what its values are multiplied by.
 * @param room sixteen rows of all slabs, and 64 bytes
 */
export function slabsOfRows(numbers: usize, task: i32, room: usize): void {
  const picture = addressAt(numbers, 0);
  const slabs = addressAt(numbers, 1);
  const width = wholeAt(numbers, 2);
  const height = wholeAt(numbers, 3);
  const repeats = wholeAt(numbers, 4) !== 0;
  const isTurned = wholeAt(numbers, 5) !== 0;
  const count = wholeAt(numbers, 6);
  const factor = f32x4.splat(floatAt(numbers, 7));
  const stride = <usize>(count * SLAB + 2 * BESIDE) << 2;
  const top = task * ROWS;
  const rows = min(ROWS, height - top);
  const first = room + (FIRST << 2);
  if (isTurned) {
    const line = <usize>height << 2;
    for (let x = 0; x < width; x += 4) {
      const a = picture + <usize>x * line + (<usize>top << 2);
      const b = x + 1 < width ? a + line : a;
      const c = x + 2 < width ? b + line : b;
      const d = x + 3 < width ? c + line : c;
      for (let y: usize = 0; y < <usize>rows; y += 4) {
        const at = y << 2;
        const to = first + y * stride + (<usize>x << 2);
        const ownA = f32x4.mul(v128.load(a + at), factor);
        const ownB = f32x4.mul(v128.load(b + at), factor);
        const ownC = f32x4.mul(v128.load(c + at), factor);
        const ownD = f32x4.mul(v128.load(d + at), factor);
        turn(ownA, ownB, ownC, ownD, to, to + stride, to + 2 * stride, to + 3 * stride);
      }
    }
  } else {
    for (let y = 0; y < rows; y++) {
      const from = picture + (<usize>((top + y) * width) << 2);
      const to = first + <usize>y * stride;
      // What is read beyond the row is written over below.
      for (let x: usize = 0, bytes = <usize>width << 2; x < bytes; x += 16) {
        v128.store(to + x, f32x4.mul(v128.load(from + x), factor));
      }
    }
  }
  for (let y = 0; y < rows; y++) {
    const row = first + <usize>y * stride;
    for (let k = 1; k <= MARGIN; k++) {
      store<f32>(row - (<usize>k << 2), load<f32>(row + (<usize>beyond(-k, width, repeats) << 2)));
      const right = width + k - 1;
      store<f32>(row + (<usize>right << 2), load<f32>(row + (<usize>beyond(right, width, repeats) << 2)));
    }
    for (let k = 0; k < count; k++) {
      const from = room + <usize>y * stride + (<usize>(k * SLAB) << 2);
      memory.copy(slabs + <usize>(k * height + top + y) * ROW, from, ROW);
    }
  }
}

/**
 * Adds to sixteen rows of a picture all that was added to them in slabs, wherever it lies more than once.
 * Numbers: as above, but for the last.
 * @param room sixteen rows of all slabs, and 64 bytes
 */
export function rowsOfSlabs(numbers: usize, task: i32, room: usize): void {
  const picture = addressAt(numbers, 0);
  const slabs = addressAt(numbers, 1);
  const width = wholeAt(numbers, 2);
  const height = wholeAt(numbers, 3);
  const repeats = wholeAt(numbers, 4) !== 0;
  const isTurned = wholeAt(numbers, 5) !== 0;
  const count = wholeAt(numbers, 6);
  const stride = <usize>(count * SLAB + 2 * BESIDE) << 2;
  const top = task * ROWS;
  const rows = min(ROWS, height - top);
  const first = room + (FIRST << 2);
  memory.fill(room, 0, <usize>ROWS * stride);
  for (let y = 0; y < rows; y++) {
    for (let k = 0; k < count; k++) {
      const from = slabs + <usize>(k * height + top + y) * ROW;
      const to = room + <usize>y * stride + (<usize>(k * SLAB) << 2);
      for (let x: usize = 0; x < ROW; x += 16) v128.store(to + x, f32x4.add(v128.load(to + x), v128.load(from + x)));
    }
    if (!repeats) continue;
    // What was seen across a side belongs to the other.
    const row = first + <usize>y * stride;
    for (let x = -MARGIN; x < width + MARGIN; x = x === -1 ? width : x + 1) {
      const own = row + (<usize>beyond(x, width, true) << 2);
      store<f32>(own, load<f32>(own) + load<f32>(row + (<usize>x << 2)));
    }
  }
  if (!isTurned) {
    for (let y = 0; y < rows; y++) {
      const from = first + <usize>y * stride;
      const to = picture + (<usize>((top + y) * width) << 2);
      for (let x = 0; x < width; x += 4) {
        const at = <usize>x << 2;
        addSome(to + at, v128.load(from + at), width - x);
      }
    }
    return;
  }
  // Four by four, in what lies behind the rows.
  const four = room + <usize>ROWS * stride;
  for (let x = 0; x < width; x += 4) {
    const columns = min(4, width - x);
    for (let y = 0; y < rows; y += 4) {
      const from = first + <usize>y * stride + (<usize>x << 2);
      const a = v128.load(from);
      const b = v128.load(from + stride);
      const c = v128.load(from + 2 * stride);
      const d = v128.load(from + 3 * stride);
      turn(a, b, c, d, four, four + 16, four + 32, four + 48);
      for (let k = 0; k < columns; k++) {
        const to = picture + (<usize>((x + k) * height + top + y) << 2);
        addSome(to, v128.load(four + (<usize>k << 4)), rows - y);
      }
    }
  }
}

/** The column that stands for one beyond the picture's sides: at the other side, or that at the side itself. */
function beyond(x: i32, width: i32, repeats: bool): i32 {
  if (!repeats) return max(0, min(width - 1, x));
  const left = x % width;
  return left < 0 ? left + width : left;
}
