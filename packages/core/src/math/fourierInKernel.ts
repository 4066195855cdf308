import type { KernelTeam } from '../kernel/kernelTeam.ts';
import { chirpTables, isPowerOfTwo, radixTables } from './fourier.ts';

/** Lines of a task, and bytes for each number of one: mirrored from kernel/picture/fourier.ts. */
const LINES = 8;
const ROOM_BYTES = 32;

/** A complex picture in the kernel's memory, doubles row by row. */
export interface KernelSpectrum {
  re: number;
  im: number;
  width: number;
  height: number;
}

/** `fourier2d` in the kernel, in place: the same bytes. */
export function fourier2dInKernel(team: KernelTeam, picture: KernelSpectrum, inverse = false): void {
  const { width, height } = picture;
  transform(team, picture, { size: width, lines: height, apart: 8, line: width * 8 }, inverse);
  transform(team, picture, { size: height, lines: width, apart: width * 8, line: 8 }, inverse);
}

/** How lines lie in memory. */
interface Lines {
  size: number;
  lines: number;
  /** Bytes from number to number, and from line to line. */
  apart: number;
  line: number;
}

function transform(
  team: KernelTeam,
  { re, im }: KernelSpectrum,
  { size, lines, apart, line }: Lines,
  inverse: boolean,
) {
  team.within(() => {
    const chirp = isPowerOfTwo(size) ? null : chirpTables(size);
    const long = chirp ? chirp.long : size;
    const { cos, sin, turned } = radixTables(long);
    const numbers = [
      ...[re, im, apart, line, size, lines, long, inverse ? 1 : 0, inverse ? size : 1],
      ...[turned, cos, sin].map((table) => team.lay(table)),
      ...(chirp ? [chirp.cos, chirp.sin, chirp.filterRe, chirp.filterIm].map((table) => team.lay(table)) : []),
    ];
    team.run('fourierOfLines', Math.ceil(lines / LINES), long * ROOM_BYTES, numbers);
  });
}
