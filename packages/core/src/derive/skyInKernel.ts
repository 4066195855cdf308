import { strideOf, type KernelTeam } from '../kernel/kernelTeam.ts';
import type { Image } from '../image/image.ts';
import { planeLike } from '../image/planes.ts';
import type { Border } from '../image/filter/resample.ts';
import { cutOf, linesOfCut, overDiagonal, reachInTexels, stepsOfCut, type OcclusionOptions } from './cuts.ts';

/** Lines of a task, at most: neighbours meet the same lines of the cache. */
const MOST_LINES = 64;

/** What all cuts through a height field see of the sky, added up: in the kernel, which holds the field and the sum. */
export function skyInKernel(team: KernelTeam, height: Image, options: OcclusionOptions, border: Border): Image {
  const cuts = Array.from({ length: options.slices }, (_, k) => cutOf(k, options.slices));
  const scale = options.depth * height.width;
  const skyOf = (picture: Image, areTurned: boolean): Image => {
    const own = cuts.filter(({ isTurned }) => isTurned === areTurned);
    return skyOfCuts(team, picture, scale, own, reachInTexels(height, options, border), border);
  };
  const sum = skyOf(height, false);
  const { data } = overDiagonal(skyOf(overDiagonal(height), true));
  for (let i = 0; i < data.length; i++) sum.data[i]! += data[i]!;
  return sum;
}

/** @param scale texels from 0 to 1 */
function skyOfCuts(
  team: KernelTeam,
  field: Image,
  scale: number,
  cuts: readonly { cos: number; sin: number }[],
  reach: number,
  border: Border,
): Image {
  const { width, height, data } = field;
  return team.within(() => {
    const row = strideOf(width) / 4;
    const [heights, sky] = [team.take(row * height * 4), team.take(row * height * 4)];
    const line = (picture: number, y: number): Float32Array => team.floats(picture + y * row * 4, width);
    for (let y = 0; y < height; y++) {
      const to = line(heights, y);
      for (let x = 0; x < width; x++) to[x] = data[y * width + x]! * scale;
      line(sky, y).fill(0);
    }
    for (const { cos, sin } of cuts) {
      const steps = stepsOfCut(cos, reach, width);
      const { column, shift, first, end } = linesOfCut(field, cos, sin, steps, border);
      team.within(() => {
        const inverses = team.lay(Float32Array.from({ length: steps + 32 }, (_, d) => 1 / Math.max(1, d)));
        const lines = Math.max(1, Math.min(MOST_LINES, Math.floor((end - first) / team.threads / 8)));
        const numbers = [
          ...[heights, sky, width, height, border === 'repeat' ? 1 : 0, steps, cos, sin],
          ...[team.lay(column), team.lay(shift), first, end - first, lines, inverses, row],
        ];
        team.run('skyOfLines', Math.ceil((end - first) / lines), (column.length + 16) * 40 + 1024, numbers);
      });
    }
    const sum = planeLike(field);
    for (let y = 0; y < height; y++) sum.data.set(line(sky, y), y * width);
    return sum;
  });
}
