import type { KernelTeam } from '../kernel/kernelTeam.ts';
import type { Image } from '../image/image.ts';
import { planeLike } from '../image/planes.ts';
import type { Border } from '../image/filter/resample.ts';
import { wrapped } from '../image/sample.ts';
import { cutOf, linesOfCut, reachInTexels, stepsOfCut, type OcclusionOptions } from './cuts.ts';
import { MARGIN, Slabs } from './slabs.ts';

/** Fours of lines of a task, at most: neighbours meet the same lines of the cache. */
const MOST_FOURS = 16;

/** Openness of a height field, from 0 to 1: in the kernel, which holds the field and the sum of all cuts. */
export function occlusionInKernel(team: KernelTeam, height: Image, options: OcclusionOptions, border: Border): Image {
  const openness = planeLike(height);
  const length = height.width * height.height;
  team.within(() => {
    const sky = team.take(length * 4);
    team.floats(sky, length).fill(0);
    for (const areTurned of [true, false]) addSky(team, height, options, border, areTurned, sky);
    const repeats = border === 'repeat' ? 1 : 0;
    const scale = options.depth * height.width;
    const numbers = [team.lay(height.data), sky, height.width, height.height, repeats, scale, 0.5 / options.slices];
    team.run('opennessOfRow', height.height, 0, numbers);
    openness.data.set(team.floats(sky, length));
  });
  return openness;
}

/**
 * Adds the sky of all cuts that run more down than across (`areTurned`), or more across than down. The kernel takes
 * neighbouring lines together: those of the latter from the picture turned over, where they run down.
 * @param sum in the kernel's memory
 */
function addSky(
  team: KernelTeam,
  field: Image,
  options: OcclusionOptions,
  border: Border,
  areTurned: boolean,
  sum: number,
): void {
  const reach = reachInTexels(field, options, border);
  const cuts = Array.from({ length: options.slices }, (_, k) => cutOf(k, options.slices));
  const size = areTurned ? field : { width: field.height, height: field.width };
  const { width, height } = size;
  team.within(() => {
    const heights = new Slabs(team, size, border, !areTurned);
    // From 0 to 1, in texels. The field itself takes no memory beside the sky.
    team.within(() => heights.lay(team.lay(field.data), options.depth * field.width));
    const sky = new Slabs(team, size, border, !areTurned);
    sky.clear();
    const doublings = new Float32Array(width + 2 * MARGIN).fill(1);
    // At a border that does not repeat, a slope is taken over one texel only.
    if (border === 'clamp') for (const x of [0, width - 1]) doublings[MARGIN + x]! *= 2;
    const ofColumns = team.lay(doublings);
    for (const cut of cuts.filter(({ isTurned }) => isTurned === areTurned)) {
      // A cut has two ends.
      const [cos, sin] = cut.cos < 0 ? [-cut.cos, -cut.sin] : [cut.cos, cut.sin];
      const steps = stepsOfCut(cos, reach, height);
      const before = Math.ceil(steps / 4) * 4;
      const { column, shift, first, end } = linesOfCut({ width: height, height: width }, cos, sin, before, border);
      const across = border === 'repeat' ? shift.map((x) => wrapped(x, width, border)) : shift;
      team.within(() => {
        const inverses = team.lay(Float32Array.from({ length: steps + 64 }, (_, d) => 1 / Math.max(1, d)));
        const fours = Math.ceil((end - first) / 4);
        const atOnce = Math.max(1, Math.min(MOST_FOURS, Math.floor(fours / team.threads / 8)));
        const numbers = [
          ...[heights.at, sky.at, width, height, border === 'repeat' ? 1 : 0, steps, cos, sin],
          ...[team.lay(column), team.lay(across), first, end - first, atOnce, inverses, heights.bytes],
          ofColumns + MARGIN * 4,
        ];
        team.run('skyOfLines', Math.ceil(fours / atOnce), (height + 2 * before + 64) * 16 * 6 + 1024, numbers);
      });
    }
    sky.addTo(sum);
  });
}
