// A picture made anew axis by axis: first down, whole rows at a time, then along what has become of them.
import { addressAt, wholeAt } from '../numbers';

/**
 * Some rows of the result: four of one channel, two of two, one of three or four, so that each step along a row fills
 * a vector.
 * Numbers: result, its width, its rows, channels, width of the picture; what rows are made of: the first of each, the
 * addresses of the picture's rows, weights; what texels of a row are made of: the first of each, how many bytes from
 * the row's begin, weights.
 * @param room for each row of a task one of the picture's, and a vector for each of its texels
 */
export function resampleRows(numbers: usize, task: i32, room: usize): void {
  const width = <usize>wholeAt(numbers, 1);
  const rows = wholeAt(numbers, 2);
  const channels = <usize>wholeAt(numbers, 3);
  const length = <usize>wholeAt(numbers, 4) * channels;
  const group = channels < 3 ? 4 / <i32>channels : 1;
  const stride = (length << 2) + 64;
  const first = task * group;
  for (let k = 0; k < group; k++) {
    // Rows beyond the last repeat it, and are left out at the end.
    sumOfRows(numbers, min(first + k, rows - 1), length, room + <usize>k * stride);
  }
  let line = room;
  if (group > 1) {
    line = room + <usize>group * stride;
    if (channels === 1) interleave4(room, stride, length, line);
    else interleave2(room, stride, length >> 1, line);
  }
  const begins = addressAt(numbers, 8);
  const offsets = addressAt(numbers, 9);
  const weights = addressAt(numbers, 10);
  const row = (width * channels) << 2;
  const to = addressAt(numbers, 0) + <usize>first * row;
  const left = rows - first;
  let tap: usize = load<u32>(begins);
  for (let x: usize = 0; x < width; x++) {
    const end: usize = load<u32>(begins + (x << 2), 4);
    let sum = f32x4.splat(0);
    for (; tap < end; tap++) {
      const texel = v128.load(line + load<u32>(offsets + (tap << 2)));
      sum = f32x4.add(sum, f32x4.mul(texel, v128.load32_splat(weights + (tap << 2))));
    }
    switch (<i32>channels) {
      case 1: {
        const at = to + (x << 2);
        v128.store_lane<f32>(at, sum, 0);
        if (left > 1) v128.store_lane<f32>(at + row, sum, 1);
        if (left > 2) v128.store_lane<f32>(at + 2 * row, sum, 2);
        if (left > 3) v128.store_lane<f32>(at + 3 * row, sum, 3);
        break;
      }
      case 2: {
        const at = to + (x << 3);
        v128.store_lane<f64>(at, sum, 0);
        if (left > 1) v128.store_lane<f64>(at + row, sum, 1);
        break;
      }
      case 3: {
        const at = to + x * 12;
        v128.store_lane<f64>(at, sum, 0);
        v128.store_lane<f32>(at, sum, 2, 8);
        break;
      }
      default:
        v128.store(to + (x << 4), sum);
    }
  }
}

/** One row of the result as wide as the picture: rows of the picture by their weights. */
function sumOfRows(numbers: usize, y: i32, length: usize, to: usize): void {
  const begins = addressAt(numbers, 5) + ((<usize>y) << 2);
  const from: usize = load<u32>(begins);
  const end: usize = load<u32>(begins, 4);
  const rows = addressAt(numbers, 6);
  const weights = addressAt(numbers, 7);
  const bytes = length << 2;
  // Sixteen floats at a time; the last ones run into the room behind.
  for (let at: usize = 0; at < bytes; at += 64) {
    let a = f32x4.splat(0);
    let b = a;
    let c = a;
    let d = a;
    for (let tap = from; tap < end; tap++) {
      const row = <usize>load<u32>(rows + (tap << 2)) + at;
      const weight = v128.load32_splat(weights + (tap << 2));
      a = f32x4.add(a, f32x4.mul(v128.load(row), weight));
      b = f32x4.add(b, f32x4.mul(v128.load(row, 16), weight));
      c = f32x4.add(c, f32x4.mul(v128.load(row, 32), weight));
      d = f32x4.add(d, f32x4.mul(v128.load(row, 48), weight));
    }
    v128.store(to + at, a);
    v128.store(to + at, b, 16);
    v128.store(to + at, c, 32);
    v128.store(to + at, d, 48);
  }
}

/** Four rows of one channel as texels of four. */
function interleave4(rows: usize, stride: usize, length: usize, to: usize): void {
  for (let x: usize = 0; x < length; x += 4) {
    const at = rows + (x << 2);
    const a = v128.load(at);
    const b = v128.load(at + stride);
    const c = v128.load(at + 2 * stride);
    const d = v128.load(at + 3 * stride);
    const ab = v128.shuffle<i32>(a, b, 0, 4, 1, 5);
    const cd = v128.shuffle<i32>(c, d, 0, 4, 1, 5);
    const ab2 = v128.shuffle<i32>(a, b, 2, 6, 3, 7);
    const cd2 = v128.shuffle<i32>(c, d, 2, 6, 3, 7);
    const texel = to + (x << 4);
    v128.store(texel, v128.shuffle<i64>(ab, cd, 0, 2));
    v128.store(texel, v128.shuffle<i64>(ab, cd, 1, 3), 16);
    v128.store(texel, v128.shuffle<i64>(ab2, cd2, 0, 2), 32);
    v128.store(texel, v128.shuffle<i64>(ab2, cd2, 1, 3), 48);
  }
}

/** Two rows of two channels as texels of four. */
function interleave2(rows: usize, stride: usize, texels: usize, to: usize): void {
  for (let x: usize = 0; x < texels; x++) {
    const texel = to + (x << 4);
    store<u64>(texel, load<u64>(rows + (x << 3)));
    store<u64>(texel, load<u64>(rows + stride + (x << 3)), 8);
  }
}
