// A Gaussian by four extended boxes laid over each other (Gwosdek, Grewenig, Bruhn and Weickert 2011), in double
// precision: a bright spot leaves nothing behind in the running sums.
import { addressAt, numberAt, wholeAt } from '../numbers';
import { singles, storeSome } from './lanes';

const PASSES = 4;
/** Lines that are gone along at a time, side by side. */
const LANES = 8;
const LANES_BYTES = LANES * 8;

/**
 * Eight rows of a picture, channel by channel, in place.
 * Numbers: picture, bytes from row to row, width, height, channels; table of the columns that lie along a row drawn out
 * beyond both of its ends, its length; radius of the box, weight of its ends, what all is multiplied by at the end.
 * @param room eight doubles for each entry of the table
 */
export function gaussianRows(numbers: usize, task: i32, room: usize): void {
  const row = addressAt(numbers, 1);
  const width = wholeAt(numbers, 2);
  const channels = wholeAt(numbers, 4);
  const table = addressAt(numbers, 5);
  const length = wholeAt(numbers, 6);
  const first = addressAt(numbers, 0) + <usize>(task * LANES) * row;
  const lanes = <usize>min(LANES, wholeAt(numbers, 3) - task * LANES);
  const scale = numberAt(numbers, 9);
  for (let c = 0; c < channels; c++) {
    for (let i = 0; i < length; i++) {
      const at = first + (<usize>(load<i32>(table + (<usize>i << 2)) * channels + c) << 2);
      const to = room + <usize>i * LANES_BYTES;
      for (let k: usize = 0; k < lanes; k++) store<f64>(to + (k << 3), <f64>load<f32>(at + k * row));
    }
    boxes(room, length, wholeAt(numbers, 7), numberAt(numbers, 8));
    for (let x = 0; x < width; x++) {
      const from = room + <usize>x * LANES_BYTES;
      const to = first + (<usize>(x * channels + c) << 2);
      for (let k: usize = 0; k < lanes; k++) store<f32>(to + k * row, <f32>(load<f64>(from + (k << 3)) * scale));
    }
  }
}

/** Columns of a task: as many as make it worth while to go to every row. */
const COLUMNS = 32;

/**
 * Some columns of floats, in place. Numbers as for rows, but the width is in floats, channels are not asked for, and the
 * table names rows.
 * @param room thirty-two doubles for each entry of the table
 */
export function gaussianColumns(numbers: usize, task: i32, room: usize): void {
  const row = addressAt(numbers, 1);
  const height = wholeAt(numbers, 3);
  const table = addressAt(numbers, 5);
  const length = wholeAt(numbers, 6);
  const first = addressAt(numbers, 0) + (<usize>(task * COLUMNS) << 2);
  const columns = min(COLUMNS, wholeAt(numbers, 2) - task * COLUMNS);
  const part = <usize>length * LANES_BYTES;
  const parts = <usize>((columns + LANES - 1) / LANES);
  for (let i = 0; i < length; i++) {
    let at = first + <usize>load<i32>(table + (<usize>i << 2)) * row;
    let to = room + <usize>i * LANES_BYTES;
    for (let k: usize = 0; k < parts; k++) {
      // What is read beyond the last column is not written back.
      v128.store(to, f64x2.promote_low_f32x4(v128.load64_zero(at)));
      v128.store(to, f64x2.promote_low_f32x4(v128.load64_zero(at, 8)), 16);
      v128.store(to, f64x2.promote_low_f32x4(v128.load64_zero(at, 16)), 32);
      v128.store(to, f64x2.promote_low_f32x4(v128.load64_zero(at, 24)), 48);
      at += LANES * 4;
      to += part;
    }
  }
  for (let k: usize = 0; k < parts; k++) boxes(room + k * part, length, wholeAt(numbers, 7), numberAt(numbers, 8));
  const scale = f64x2.splat(numberAt(numbers, 9));
  for (let y = 0; y < height; y++) {
    let from = room + <usize>y * LANES_BYTES;
    let to = first + <usize>y * row;
    for (let left = columns; left > 0; left -= LANES) {
      const low = singles(f64x2.mul(v128.load(from), scale), f64x2.mul(v128.load(from, 16), scale));
      const high = singles(f64x2.mul(v128.load(from, 32), scale), f64x2.mul(v128.load(from, 48), scale));
      storeSome(to, low, left);
      if (left > 4) storeSome(to + 16, high, left - 4);
      from += part;
      to += LANES * 4;
    }
  }
}

/** All passes over eight lines, in place: each leaves them shorter by a box, its first place one reach farther in. */
function boxes(line: usize, length: i32, radius: i32, end: f64): void {
  const reach = radius + 1;
  const far = <usize>(2 * reach) * LANES_BYTES;
  const ends = f64x2.splat(end);
  let left = length;
  for (let pass = 0; pass < PASSES; pass++) {
    left -= 2 * reach;
    let a = f64x2.splat(0);
    let b = a;
    let c = a;
    let d = a;
    for (let at = line + LANES_BYTES; at < line + far; at += LANES_BYTES) {
      a = f64x2.add(a, v128.load(at));
      b = f64x2.add(b, v128.load(at, 16));
      c = f64x2.add(c, v128.load(at, 32));
      d = f64x2.add(d, v128.load(at, 48));
    }
    const stop = line + <usize>left * LANES_BYTES;
    for (let at = line; at < stop; at += LANES_BYTES) {
      const behind = at + far;
      const pa = v128.load(behind);
      const pb = v128.load(behind, 16);
      const pc = v128.load(behind, 32);
      const pd = v128.load(behind, 48);
      v128.store(at, f64x2.add(a, f64x2.mul(ends, f64x2.add(v128.load(at), pa))));
      v128.store(at, f64x2.add(b, f64x2.mul(ends, f64x2.add(v128.load(at, 16), pb))), 16);
      v128.store(at, f64x2.add(c, f64x2.mul(ends, f64x2.add(v128.load(at, 32), pc))), 32);
      v128.store(at, f64x2.add(d, f64x2.mul(ends, f64x2.add(v128.load(at, 48), pd))), 48);
      a = f64x2.add(a, f64x2.sub(pa, v128.load(at, LANES_BYTES)));
      b = f64x2.add(b, f64x2.sub(pb, v128.load(at, LANES_BYTES + 16)));
      c = f64x2.add(c, f64x2.sub(pc, v128.load(at, LANES_BYTES + 32)));
      d = f64x2.add(d, f64x2.sub(pd, v128.load(at, LANES_BYTES + 48)));
    }
  }
}
