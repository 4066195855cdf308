import { strideOf, type KernelTeam } from '../../kernel/kernelTeam.ts';
import type { Size } from '../../math/size.ts';
import type { Image } from '../image.ts';
import type { Taps } from './taps.ts';

/** Of the result's rows that are worked on at a time, while others are copied. */
const PART_BYTES = 1024 * 1024;

/** `separably` in the kernel, in bands of rows. @param image of one to four channels */
export function separablyInKernel(team: KernelTeam, image: Image, size: Size, across: Taps, down: Taps): Image {
  const { width, channels } = image;
  const data = new Float32Array(size.width * size.height * channels);
  const partRows = partRowsOf(size, channels);
  const rowsAtOnce = channels < 3 ? 4 / channels : 1;
  // Texels lie side by side in the kernel, those of several rows together where there are few channels.
  const texelBytes = rowsAtOnce > 1 ? 16 : channels * 4;
  const roomBytes = rowsAtOnce * (width * channels * 4 + 64) + width * 16 + 64;
  team.within(() => {
    const ofRow = [
      team.lay(across.first),
      team.lay(across.at.map((texel) => texel * texelBytes)),
      team.lay(Float32Array.from(across.weight)),
    ];
    for (let from = 0, to = 0; from < size.height; from = to) {
      const places = new Map<number, number>();
      to = bandEnd(team.budgetBytes, down, from, size, width * channels * 4, channels, places);
      team.within(() => {
        const band = layBand(team, image, size, down, from, to, places);
        team.inParts(
          Math.ceil((to - from) / partRows),
          (part) => band.lay(part),
          (part, meanwhile) => {
            const rows = Math.min(partRows, to - from - part * partRows);
            const numbers = [band.resultAt(part), size.width, rows, channels, width, ...band.ofColumns(part), ...ofRow];
            team.run('resampleRows', Math.ceil(rows / rowsAtOnce), roomBytes, numbers, meanwhile);
          },
          (part) => band.takeOut(part, data),
        );
      });
    }
  });
  return { ...image, ...size, data };
}

/** Memory for a band of the result and the picture's rows that it is made of, each laid into it before it is needed. */
function layBand(
  team: KernelTeam,
  { width, channels, data }: Image,
  size: Size,
  down: Taps,
  from: number,
  to: number,
  places: ReadonlyMap<number, number>,
) {
  const row = width * channels;
  const partRows = partRowsOf(size, channels);
  const stride = strideOf(row);
  const picture = team.take(places.size * stride);
  const resultRow = size.width * channels;
  const result = team.take((to - from) * resultRow * 4);
  const [first, last] = [down.first[from]!, down.first[to]!];
  const begins = team.lay(down.first.slice(from, to + 1).map((at) => at - first));
  const addresses = team.lay(down.at.slice(first, last).map((y) => picture + places.get(y)! * stride));
  const weights = team.lay(Float32Array.from(down.weight.subarray(first, last)));
  const laid = new Set<number>();
  const firstOf = (part: number): number => from + part * partRows;
  const endOf = (part: number): number => Math.min(to, firstOf(part + 1));
  return {
    lay(part: number): void {
      for (let tap = down.first[firstOf(part)]!; tap < down.first[endOf(part)]!; tap++) {
        const y = down.at[tap]!;
        if (laid.has(y)) continue;
        laid.add(y);
        team.floats(picture + places.get(y)! * stride, row).set(data.subarray(y * row, (y + 1) * row));
      }
    },
    takeOut(part: number, out: Float32Array): void {
      const [at, end] = [firstOf(part) * resultRow, endOf(part) * resultRow];
      out.set(team.floats(this.resultAt(part), end - at), at);
    },
    resultAt: (part: number): number => result + part * partRows * resultRow * 4,
    ofColumns: (part: number): number[] => [begins + part * partRows * 4, addresses, weights],
  };
}

/** A number of rows that four divides, for several of few channels are made together. */
const partRowsOf = ({ width }: Size, channels: number): number =>
  Math.max(64, Math.ceil(PART_BYTES / (width * channels * 4) / 4) * 4);

/**
 * Where a band ends that begins at a row, so that it fits with the rows of the picture that it is made of.
 * @param rows told those rows, each with its place in the band's own picture
 */
function bandEnd(
  budgetBytes: number,
  { first, at }: Taps,
  from: number,
  { width, height }: Size,
  rowBytes: number,
  channels: number,
  rows: Map<number, number>,
): number {
  let bytes = 0;
  for (let y = from; y < height; y++) {
    for (let tap = first[y]!; tap < first[y + 1]!; tap++) {
      if (rows.has(at[tap]!)) continue;
      rows.set(at[tap]!, rows.size);
      bytes += rowBytes;
    }
    bytes += width * channels * 4;
    if (bytes > budgetBytes) return y + 1;
  }
  return height;
}
