import { strideOf, type KernelTeam } from '../../kernel/kernelTeam.ts';
import type { Image } from '../image.ts';
import { boxOf, drawnOut, type Box } from './extendedBox.ts';
import type { Border } from './resample.ts';

/** Rows and columns of a task: mirrored from kernel/picture/gaussian.ts. */
const LANES = 16;
const COLUMNS = 32;

/** Parts that a picture is laid into the kernel in, and taken out; a small one at once. */
const PARTS = 8;
const SMALL_BYTES = 2 * 1024 * 1024;

/** `blur` in the kernel: at once where the picture fits, else in bands of rows and then in strips of columns. */
export function blurInKernel(team: KernelTeam, image: Image, sigma: number, border: Border): Image {
  const { width, height } = image;
  const box = boxOf(sigma);
  const data = new Float32Array(image.data.length);
  team.within(() => {
    const across = tableOf(team, width, box, border);
    const down = tableOf(team, height, box, border);
    const fits = image.data.byteLength <= team.budgetBytes;
    if (fits) atOnce(team, image, box, across, down, data);
    else partByPart(team, image, box, across, down, data);
  });
  return { ...image, data };
}

function atOnce(team: KernelTeam, image: Image, box: Box, across: Table, down: Table, data: Float32Array): void {
  const { height, data: from } = image;
  const row = image.width * image.channels;
  const stride = strideOf(row);
  const at = team.take(height * stride);
  const parts = from.byteLength > SMALL_BYTES ? PARTS : 1;
  const rows = Math.ceil(height / parts / LANES) * LANES;
  const line = (y: number): Float32Array => team.floats(at + y * stride, row);
  team.inParts(
    Math.ceil(height / rows),
    (part) => {
      for (let y = part * rows; y < Math.min(height, (part + 1) * rows); y++)
        line(y).set(from.subarray(y * row, (y + 1) * row));
    },
    (part, meanwhile) =>
      alongRows(
        team,
        at + part * rows * stride,
        stride,
        image,
        Math.min(rows, height - part * rows),
        box,
        across,
        meanwhile,
      ),
    () => {},
  );
  const columns = Math.ceil(row / parts / COLUMNS) * COLUMNS;
  team.inParts(
    Math.ceil(row / columns),
    () => {},
    (part, meanwhile) =>
      alongColumns(
        team,
        at + part * columns * 4,
        stride,
        Math.min(columns, row - part * columns),
        height,
        box,
        down,
        meanwhile,
      ),
    (part) => {
      const [first, end] = [part * columns, Math.min(row, (part + 1) * columns)];
      for (let y = 0; y < height; y++) data.set(line(y).subarray(first, end), y * row + first);
    },
  );
}

/** A table of `drawnOut` in the kernel's memory. */
interface Table {
  at: number;
  length: number;
}

/** The table by which lines of so many texels are drawn out, laid into the kernel. */
export function tableOf(team: KernelTeam, size: number, box: Box, border: Border): Table {
  const table = drawnOut(size, box, border);
  return { at: team.lay(table), length: table.length };
}

type Shape = Pick<Image, 'width' | 'channels'>;

/** Blurs rows of a picture in the kernel's memory, in place. */
export function alongRows(
  team: KernelTeam,
  at: number,
  stride: number,
  { width, channels }: Shape,
  rows: number,
  box: Box,
  table: Table,
  meanwhile?: () => void,
): void {
  const numbers = [at, stride, width, rows, channels, table.at, table.length, box.radius, box.end, box.scale];
  team.run('gaussianRows', Math.ceil(rows / LANES), table.length * channels * LANES * 4, numbers, meanwhile);
}

/** Blurs columns of floats in the kernel's memory, in place. */
export function alongColumns(
  team: KernelTeam,
  at: number,
  stride: number,
  columns: number,
  rows: number,
  box: Box,
  table: Table,
  meanwhile?: () => void,
): void {
  const numbers = [at, stride, columns, rows, 1, table.at, table.length, box.radius, box.end, box.scale];
  team.run('gaussianColumns', Math.ceil(columns / COLUMNS), table.length * COLUMNS * 4, numbers, meanwhile);
}

function partByPart(team: KernelTeam, image: Image, box: Box, across: Table, down: Table, data: Float32Array): void {
  const { height, data: from } = image;
  const row = image.width * image.channels;
  const room = team.budgetBytes / 4;
  const rows = Math.max(LANES, Math.floor(room / row / 4 / LANES) * LANES);
  const columns = Math.max(COLUMNS, Math.floor(room / 4 / height / COLUMNS) * COLUMNS);
  const stride = strideOf(columns);
  const at = team.take(Math.max(rows * row * 4, height * stride));
  for (let y = 0; y < height; y += rows) {
    const count = Math.min(rows, height - y);
    const band = team.floats(at, count * row);
    band.set(from.subarray(y * row, (y + count) * row));
    alongRows(team, at, row * 4, image, count, box, across);
    data.set(band, y * row);
  }
  for (let x = 0; x < row; x += columns) {
    const count = Math.min(columns, row - x);
    for (let y = 0; y < height; y++) {
      team.floats(at + y * stride, count).set(data.subarray(y * row + x, y * row + x + count));
    }
    alongColumns(team, at, stride, count, height, box, down);
    for (let y = 0; y < height; y++) data.set(team.floats(at + y * stride, count), y * row + x);
  }
}
