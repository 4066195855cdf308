import type { Image } from '../image.ts';
import { boxOf, drawnOut, PASSES, type Box } from './extendedBox.ts';
import type { Border } from './resample.ts';

/** `blur` without the kernel. @param sigma above 0 */
export function blurPlainly(image: Image, sigma: number, border: Border): Image {
  const { width, height, channels } = image;
  const box = boxOf(sigma);
  const data = new Float32Array(image.data.length);
  const isMean = (length: number): boolean => border === 'repeat' && sigma >= length;
  if (isMean(width)) meansOfRows(image.data, data, width * channels, channels);
  else alongRows(image.data, data, width * channels, height, channels, box, border);
  if (isMean(height)) meanOfColumns(data, width * channels, height);
  else alongColumns(data, width * channels, height, box, border);
  return { ...image, data };
}

function meansOfRows(from: Float32Array, to: Float32Array, row: number, channels: number): void {
  for (let at = 0; at < from.length; at += row) {
    for (let c = 0; c < channels; c++) {
      let sum = 0;
      for (let x = c; x < row; x += channels) sum += from[at + x]!;
      for (let x = c; x < row; x += channels) to[at + x] = (sum * channels) / row;
    }
  }
}

function meanOfColumns(data: Float32Array, row: number, height: number): void {
  for (let x = 0; x < row; x++) {
    let sum = 0;
    for (let at = x; at < data.length; at += row) sum += data[at]!;
    for (let at = x; at < data.length; at += row) data[at] = sum / height;
  }
}

/** Columns that are gone through at a time, so that all passes find them in the nearest memory. */
const LANES = 16;

/** Each row is drawn out beyond its ends as far as all passes reach, which then need not ask where it ends. */
function alongRows(
  from: Float32Array,
  to: Float32Array,
  row: number,
  height: number,
  channels: number,
  box: Box,
  border: Border,
): void {
  const width = row / channels;
  const table = drawnOut(width, box, border);
  let [line, next] = [new Float64Array(table.length), new Float64Array(table.length)];
  for (let y = 0; y < height; y++) {
    for (let c = 0; c < channels; c++) {
      const at = y * row + c;
      for (let i = 0; i < table.length; i++) line[i] = from[at + table[i]! * channels]!;
      for (let pass = 0, length = table.length; pass < PASSES; pass++) {
        length = boxAlong(line, next, length, box);
        [line, next] = [next, line];
      }
      for (let x = 0, i = at; x < width; x++, i += channels) to[i] = line[x]! * box.scale;
    }
  }
}

/** One pass over a line. @returns how many are left of it: shorter by a box, its first lies one reach farther in */
function boxAlong(from: Float64Array, to: Float64Array, length: number, { radius, end }: Box): number {
  const reach = radius + 1;
  const left = length - 2 * reach;
  let running = 0;
  for (let i = 1; i < 2 * reach; i++) running += from[i]!;
  for (let x = 0; x < left; x++) {
    const behind = from[x + 2 * reach]!;
    to[x] = running + end * (from[x]! + behind);
    running += behind - from[x + 1]!;
  }
  return left;
}

/** In place, some columns at a time. */
function alongColumns(data: Float32Array, row: number, height: number, box: Box, border: Border): void {
  const table = drawnOut(height, box, border);
  let [lines, next] = [new Float64Array(table.length * LANES), new Float64Array(table.length * LANES)];
  for (let first = 0; first < row; first += LANES) {
    const lanes = Math.min(LANES, row - first);
    for (let i = 0; i < table.length; i++) {
      const at = table[i]! * row + first;
      for (let x = 0; x < lanes; x++) lines[i * LANES + x] = data[at + x]!;
    }
    for (let pass = 0, length = table.length; pass < PASSES; pass++) {
      length = boxAcross(lines, next, length, box);
      [lines, next] = [next, lines];
    }
    for (let y = 0; y < height; y++) {
      for (let x = 0; x < lanes; x++) data[y * row + first + x] = lines[y * LANES + x]! * box.scale;
    }
  }
}

function boxAcross(from: Float64Array, to: Float64Array, length: number, { radius, end }: Box): number {
  const reach = radius + 1;
  const left = length - 2 * reach;
  const far = 2 * reach * LANES;
  const running = new Float64Array(LANES);
  for (let i = LANES; i < far; i++) running[i % LANES]! += from[i]!;
  for (let y = 0; y < left; y++) {
    const at = y * LANES;
    for (let x = 0; x < LANES; x++) {
      const behind = from[at + far + x]!;
      to[at + x] = running[x]! + end * (from[at + x]! + behind);
      running[x]! += behind - from[at + LANES + x]!;
    }
  }
  return left;
}
