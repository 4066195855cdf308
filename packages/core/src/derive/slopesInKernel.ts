import type { Image } from '../image/image.ts';
import { wrapped } from '../image/sample.ts';
import type { Border } from '../image/filter/resample.ts';
import type { KernelTeam } from '../kernel/kernelTeam.ts';

/** Texels that are copied at once. */
const PART_TEXELS = 1024 * 1024;

/** Weights across the slope: of the neighbours, and of the middle. */
export type CrossWeights = readonly [side: number, middle: number];

/**
 * Slopes of one channel in the kernel.
 * @param across, down told the slopes; null for those that are not asked for
 */
export function slopesInKernel(
  team: KernelTeam,
  image: Image,
  weights: CrossWeights,
  border: Border,
  across: Float32Array | null,
  down: Float32Array | null,
): void {
  const { width } = image;
  const wanted = [across, down];
  byBands(
    team,
    { image, border, outBytes: wanted.map((out) => (out ? width * 4 : 0)) },
    ({ outs, count }) => {
      for (const out of outs) if (out !== 0) team.floats(out, count * width).fill(0);
    },
    (band, meanwhile) => team.run('slopesOfRow', band.count, 0, numbersOf(band, width, band.outs, weights), meanwhile),
    ({ outs, first, count }) => {
      wanted.forEach((out, k) => out?.set(team.floats(outs[k]!, count * width), first * width));
    },
  );
}

/**
 * Normals of one channel in the kernel, three numbers from 0 to 1 for each texel.
 * @param scales what slopes across and down the rows are multiplied by to be the normal's x and y
 */
export function normalsInKernel(
  team: KernelTeam,
  image: Image,
  weights: CrossWeights,
  border: Border,
  scales: readonly [x: number, y: number],
): Float32Array<ArrayBuffer> {
  const { width, height } = image;
  const row = Math.ceil(width / 4) * 48;
  const normals = new Float32Array(width * height * 3);
  byBands(
    team,
    { image, border, outBytes: [row] },
    () => {},
    (band, meanwhile) => {
      const numbers = [...numbersOf(band, width, [band.outs[0]!, row], weights), ...scales];
      team.run('normalsOfRow', band.count, 0, numbers, meanwhile);
    },
    ({ outs, first, count }) => {
      for (let r = 0; r < count; r++) {
        normals.set(team.floats(outs[0]! + r * row, width * 3), (first + r) * width * 3);
      }
    },
  );
  return normals;
}

/** Some rows in the kernel's memory, drawn out by a texel at all sides. */
interface Band {
  picture: number;
  stride: number;
  first: number;
  count: number;
  /** Where what is made of them lies. */
  outs: number[];
  /** What slopes are multiplied by in the first and the last row, and in the first and the last column. */
  factors: readonly [first: number, last: number, side: number];
}

/** As the kernel lists them. @param third, fourth of the numbers */
function numbersOf(
  { picture, stride, count, factors: [first, last, side] }: Band,
  width: number,
  [third, fourth]: readonly number[],
  weights: CrossWeights,
): number[] {
  return [picture, stride, width, third!, fourth!, ...weights, first, last, count, side];
}

/** Goes through a picture band by band. @param outBytes what is made of each row; 0 for nothing */
function byBands(
  team: KernelTeam,
  { image, border, outBytes }: { image: Image; border: Border; outBytes: readonly number[] },
  prepare: (band: Band) => void,
  work: (band: Band, meanwhile?: () => void) => void,
  takeOut: (band: Band) => void,
): void {
  const { width, height, data } = image;
  const rows = Math.max(1, Math.min(height, Math.floor(PART_TEXELS / width)));
  const stride = (width + 2) * 4;
  const [left, right] = border === 'repeat' ? [width - 1, 0] : [0, width - 1];
  // At a border that does not repeat, the step is but one texel long.
  const atBorder = border === 'repeat' ? 1 : 2;
  team.within(() => {
    // Two of each: while one is worked on the other is copied.
    const room = [0, 1].map(() => ({
      picture: team.take((rows + 2) * stride),
      outs: outBytes.map((bytes) => (bytes > 0 ? team.take(rows * bytes) : 0)),
    }));
    const bandOf = (part: number): Band => {
      const [first, end] = [part * rows, Math.min(height, (part + 1) * rows)];
      const factors = [part === 0 ? atBorder : 1, end === height ? atBorder : 1, atBorder] as const;
      return { ...room[part & 1]!, stride, first, count: end - first, factors };
    };
    team.inParts(
      Math.ceil(height / rows),
      (part) => {
        const band = bandOf(part);
        const picture = team.floats(band.picture, (band.count + 2) * (width + 2));
        for (let r = 0; r < band.count + 2; r++) {
          const from = wrapped(band.first + r - 1, height, border) * width;
          const at = r * (width + 2);
          picture.set(data.subarray(from, from + width), at + 1);
          picture[at] = data[from + left]!;
          picture[at + width + 1] = data[from + right]!;
        }
        prepare(band);
      },
      (part, meanwhile) => work(bandOf(part), meanwhile),
      (part) => takeOut(bandOf(part)),
    );
  });
}
