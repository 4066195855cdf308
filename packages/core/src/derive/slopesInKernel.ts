import type { Image } from '../image/image.ts';
import { wrapped } from '../image/sample.ts';
import type { Border } from '../image/filter/resample.ts';
import type { KernelTeam } from '../kernel/kernelTeam.ts';

/** Texels that are copied at once. */
const PART_TEXELS = 1024 * 1024;

/** Weights across the slope: of the neighbours, and of the middle. */
export type CrossWeights = readonly [side: number, middle: number];

/** Slopes of one channel in the kernel. @param across, down told the slopes */
export function slopesInKernel(
  team: KernelTeam,
  image: Image,
  weights: CrossWeights,
  border: Border,
  across: Float32Array,
  down: Float32Array,
): void {
  const { width } = image;
  byBands(
    team,
    { image, border, outBytes: [width * 4, width * 4] },
    ({ outs, count }) => {
      for (const out of outs) team.floats(out, count * width).fill(0);
    },
    (band, meanwhile) => team.run('slopesOfRow', band.count, 0, numbersOf(band, width, band.outs, weights), meanwhile),
    ({ outs, first, count }) => {
      [across, down].forEach((out, k) => out.set(team.floats(outs[k]!, count * width), first * width));
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
    ({ outs, first, count }) => takeRows(team, outs[0]!, row, count, normals, first * width * 3, width * 3),
  );
  return normals;
}

/** What becomes of curvature: it is multiplied, added to, and kept between 0 and 1 if it is to be a picture. */
export interface CurvatureScale {
  times: number;
  plus: number;
  isKept: boolean;
}

/**
 * Mean curvature of one channel in the kernel, by Scharr's operator.
 * @param slope what slopes are multiplied by to be those of the surface
 */
export function curvatureInKernel(
  team: KernelTeam,
  image: Image,
  slope: number,
  border: Border,
  { times, plus, isKept }: CurvatureScale,
): Float32Array<ArrayBuffer> {
  const { width, height } = image;
  const row = Math.ceil(width / 4) * 16;
  const curvature = new Float32Array(width * height);
  const doublings = new Float32Array(width + 4).fill(1);
  if (border === 'clamp') for (const x of [0, width - 1]) doublings[x]! *= 2;
  team.within(() => {
    const ofColumns = team.lay(doublings);
    byBands(
      team,
      { image, border, halo: 2, outBytes: [row] },
      () => {},
      ({ picture, stride, first, count, outs }, meanwhile) => {
        const numbers = [
          ...[picture, stride, width, outs[0]!, first, height, border === 'repeat' ? 1 : 0, slope, ofColumns],
          ...[times, plus, isKept ? 1 : 0],
        ];
        team.run('curvatureOfRow', count, 6 * (width + 8) * 4 + 64, numbers, meanwhile);
      },
      ({ outs, first, count }) => takeRows(team, outs[0]!, row, count, curvature, first * width, width),
    );
  });
  return curvature;
}

/** Takes out rows that begin so many bytes apart. @param floats of a row */
function takeRows(
  team: KernelTeam,
  at: number,
  rowBytes: number,
  count: number,
  out: Float32Array,
  first: number,
  floats: number,
): void {
  if (rowBytes === floats * 4) {
    out.set(team.floats(at, count * floats), first);
    return;
  }
  for (let r = 0; r < count; r++) out.set(team.floats(at + r * rowBytes, floats), first + r * floats);
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

/** Goes through a picture band by band. @param halo rows more above and below @param outBytes what is made of each row */
function byBands(
  team: KernelTeam,
  { image, border, halo = 1, outBytes }: { image: Image; border: Border; halo?: number; outBytes: readonly number[] },
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
      picture: team.take((rows + 2 * halo) * stride),
      outs: outBytes.map((bytes) => team.take(rows * bytes)),
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
        const picture = team.floats(band.picture, (band.count + 2 * halo) * (width + 2));
        for (let r = 0; r < band.count + 2 * halo; r++) {
          const from = wrapped(band.first + r - halo, height, border) * width;
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
