import type { Image } from '../image/image.ts';
import { wrapped } from '../image/sample.ts';
import type { Border } from '../image/filter/resample.ts';
import type { KernelTeam } from '../kernel/kernelTeam.ts';

/** Texels that are copied at once. */
const PART_TEXELS = 1024 * 1024;

/**
 * Slopes of one channel in the kernel, in bands of rows that are drawn out by a texel at all sides.
 * @param weights across the slope: of the neighbours, and of the middle
 * @param across, down told the slopes; null for those that are not asked for
 */
export function slopesInKernel(
  team: KernelTeam,
  { width, height, data }: Image,
  [side, middle]: readonly [side: number, middle: number],
  border: Border,
  across: Float32Array | null,
  down: Float32Array | null,
): void {
  const rows = Math.max(1, Math.min(height, Math.floor(PART_TEXELS / width)));
  const stride = (width + 2) * 4;
  const [left, right] = border === 'repeat' ? [width - 1, 0] : [0, width - 1];
  // At a border that does not repeat, the step is but one texel long.
  const atBorder = border === 'repeat' ? 1 : 2;
  const endOf = (part: number): number => Math.min(height, (part + 1) * rows);
  team.within(() => {
    // Two of each: while one is worked on the other is copied.
    const room = [0, 1].map(() => ({
      picture: team.take((rows + 2) * stride),
      across: across ? team.take(rows * width * 4) : 0,
      down: down ? team.take(rows * width * 4) : 0,
    }));
    team.inParts(
      Math.ceil(height / rows),
      (part) => {
        const to = room[part & 1]!;
        const count = endOf(part) - part * rows;
        const picture = team.floats(to.picture, (count + 2) * (width + 2));
        for (let r = 0; r < count + 2; r++) {
          const from = wrapped(part * rows + r - 1, height, border) * width;
          const at = r * (width + 2);
          picture.set(data.subarray(from, from + width), at + 1);
          picture[at] = data[from + left]!;
          picture[at + width + 1] = data[from + right]!;
        }
        for (const out of [to.across, to.down]) if (out !== 0) team.floats(out, count * width).fill(0);
      },
      (part, meanwhile) => {
        const own = room[part & 1]!;
        const count = endOf(part) - part * rows;
        const first = part === 0 ? atBorder : 1;
        const last = endOf(part) === height ? atBorder : 1;
        const numbers = [own.picture, stride, width, own.across, own.down, side, middle, first, last, count, atBorder];
        team.run('slopesOfRow', count, 0, numbers, meanwhile);
      },
      (part) => {
        const own = room[part & 1]!;
        const [from, end] = [part * rows * width, endOf(part) * width];
        across?.set(team.floats(own.across, end - from), from);
        down?.set(team.floats(own.down, end - from), from);
      },
    );
  });
}
