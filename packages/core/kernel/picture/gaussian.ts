// A Gaussian by four extended boxes laid over each other (Gwosdek, Grewenig, Bruhn and Weickert 2011), in single precision.
// Sums that run along a line are begun anew after the length of each box: a bright spot leaves nothing behind in them, and
// what is rounded off does not add up.
import { addressAt, floatAt, wholeAt } from '../numbers';
import { storeSome, turn } from './lanes';

const PASSES = 4;
/** Lines that are gone along at a time, side by side: mirrored by src/image/filter/blurInKernel.ts. */
const LANES = 16;
/** Bytes of one place of so many lines. */
const PLACE: usize = LANES << 2;

/**
 * Sixteen rows of a picture, in place.
 * Numbers: picture, bytes from row to row, width, height, channels; table of the columns that lie along a row drawn out
 * beyond both of its ends, its length; radius of the box, weight of its ends, what all is multiplied by at the end.
 * @param room sixteen floats for each channel of each entry of the table
 */
export function gaussianRows(numbers: usize, task: i32, room: usize): void {
  const row = addressAt(numbers, 1);
  const width = wholeAt(numbers, 2);
  const channels = wholeAt(numbers, 4);
  const table = addressAt(numbers, 5);
  const length = wholeAt(numbers, 6);
  const texel = <usize>channels * PLACE;
  const margin = (length - width) >> 1;
  const begin = room + <usize>margin * texel;
  const first = addressAt(numbers, 0) + <usize>(task * LANES) * row;
  const last = min(LANES, wholeAt(numbers, 3) - task * LANES) - 1;
  const floats = width * channels;
  for (let k = 0; k < LANES; k += 4) {
    // Rows beyond the last repeat it.
    const a = first + <usize>min(k, last) * row;
    const b = first + <usize>min(k + 1, last) * row;
    const c = first + <usize>min(k + 2, last) * row;
    const d = first + <usize>min(k + 3, last) * row;
    let to = begin + (<usize>k << 2);
    // What is read beyond the last texel lies in the margin, which is filled afterwards.
    for (let i: usize = 0, bytes = <usize>floats << 2; i < bytes; i += 16) {
      turn(v128.load(a + i), v128.load(b + i), v128.load(c + i), v128.load(d + i), to, to + PLACE, to + 2 * PLACE, to + 3 * PLACE);
      to += 4 * PLACE;
    }
  }
  for (let i = 0; i < length; i++) {
    if (i === margin) i += width;
    memory.copy(room + <usize>i * texel, begin + <usize>load<i32>(table + (<usize>i << 2)) * texel, texel);
  }
  for (let c = 0; c < channels; c++) {
    boxes(room + <usize>c * PLACE, length, texel, wholeAt(numbers, 7), floatAt(numbers, 8));
  }
  const scale = f32x4.splat(floatAt(numbers, 9));
  const four = room + <usize>floats * PLACE;
  for (let k = 0; k <= last; k += 4) {
    const a = first + <usize>k * row;
    const b = first + <usize>min(k + 1, last) * row;
    const c = first + <usize>min(k + 2, last) * row;
    const d = first + <usize>min(k + 3, last) * row;
    let from = room + (<usize>k << 2);
    for (let i = 0; i < floats; i += 4) {
      const at = <usize>i << 2;
      const e = f32x4.mul(v128.load(from), scale);
      const f = f32x4.mul(v128.load(from, PLACE), scale);
      const g = f32x4.mul(v128.load(from, 2 * PLACE), scale);
      const h = f32x4.mul(v128.load(from, 3 * PLACE), scale);
      from += 4 * PLACE;
      if (i + 4 <= floats) {
        turn(e, f, g, h, a + at, b + at, c + at, d + at);
        continue;
      }
      turn(e, f, g, h, four, four + 16, four + 32, four + 48);
      storeSome(a + at, v128.load(four), floats - i);
      storeSome(b + at, v128.load(four, 16), floats - i);
      storeSome(c + at, v128.load(four, 32), floats - i);
      storeSome(d + at, v128.load(four, 48), floats - i);
    }
  }
}

/** Columns of a task: as many as make it worth while to go to every row. */
const COLUMNS = 32;

/**
 * Some columns of floats, in place. Numbers as for rows, but the width is in floats, channels are not asked for, and the
 * table names rows.
 * @param room thirty-two floats for each entry of the table
 */
export function gaussianColumns(numbers: usize, task: i32, room: usize): void {
  const row = addressAt(numbers, 1);
  const height = wholeAt(numbers, 3);
  const table = addressAt(numbers, 5);
  const length = wholeAt(numbers, 6);
  const first = addressAt(numbers, 0) + (<usize>(task * COLUMNS) << 2);
  const columns = min(COLUMNS, wholeAt(numbers, 2) - task * COLUMNS);
  const part = <usize>length * PLACE;
  const parts = <usize>((columns + LANES - 1) / LANES);
  for (let i = 0; i < length; i++) {
    let at = first + <usize>load<i32>(table + (<usize>i << 2)) * row;
    let to = room + <usize>i * PLACE;
    for (let k: usize = 0; k < parts; k++) {
      // What is read beyond the last column is not written back.
      v128.store(to, v128.load(at));
      v128.store(to, v128.load(at, 16), 16);
      v128.store(to, v128.load(at, 32), 32);
      v128.store(to, v128.load(at, 48), 48);
      at += PLACE;
      to += part;
    }
  }
  for (let k: usize = 0; k < parts; k++) boxes(room + k * part, length, PLACE, wholeAt(numbers, 7), floatAt(numbers, 8));
  const scale = f32x4.splat(floatAt(numbers, 9));
  for (let y = 0; y < height; y++) {
    let from = room + <usize>y * PLACE;
    let to = first + <usize>y * row;
    for (let left = columns; left > 0; left -= LANES) {
      for (let k = 0; k < min(LANES, left); k += 4) {
        const at = <usize>k << 2;
        storeSome(to + at, f32x4.mul(v128.load(from + at), scale), left - k);
      }
      from += part;
      to += PLACE;
    }
  }
}

/**
 * All passes over sixteen lines, in place: each leaves them shorter by a box, its first place one reach farther in.
 * @param step bytes from one place of the lines to the next
 */
function boxes(line: usize, length: i32, step: usize, radius: i32, end: f32): void {
  const reach = radius + 1;
  const far = <usize>(2 * reach) * step;
  const ends = f32x4.splat(end);
  let left = length;
  for (let pass = 0; pass < PASSES; pass++) {
    left -= 2 * reach;
    const stop = line + <usize>left * step;
    let at = line;
    while (at < stop) {
      let a = f32x4.splat(0);
      let b = a;
      let c = a;
      let d = a;
      for (let within = at + step; within < at + far; within += step) {
        a = f32x4.add(a, v128.load(within));
        b = f32x4.add(b, v128.load(within, 16));
        c = f32x4.add(c, v128.load(within, 32));
        d = f32x4.add(d, v128.load(within, 48));
      }
      let ea = v128.load(at);
      let eb = v128.load(at, 16);
      let ec = v128.load(at, 32);
      let ed = v128.load(at, 48);
      for (const until = min(stop, at + far); at < until; at += step) {
        const pa = v128.load(at + far);
        const pb = v128.load(at + far, 16);
        const pc = v128.load(at + far, 32);
        const pd = v128.load(at + far, 48);
        v128.store(at, f32x4.add(a, f32x4.mul(ends, f32x4.add(ea, pa))));
        v128.store(at, f32x4.add(b, f32x4.mul(ends, f32x4.add(eb, pb))), 16);
        v128.store(at, f32x4.add(c, f32x4.mul(ends, f32x4.add(ec, pc))), 32);
        v128.store(at, f32x4.add(d, f32x4.mul(ends, f32x4.add(ed, pd))), 48);
        ea = v128.load(at + step);
        eb = v128.load(at + step, 16);
        ec = v128.load(at + step, 32);
        ed = v128.load(at + step, 48);
        a = f32x4.add(a, f32x4.sub(pa, ea));
        b = f32x4.add(b, f32x4.sub(pb, eb));
        c = f32x4.add(c, f32x4.sub(pc, ec));
        d = f32x4.add(d, f32x4.sub(pd, ed));
      }
    }
  }
}
