import { TexelState, type Image } from '@zographos/core/image';
import { accumulatedPerTexel, ACCUMULATED, GROUPS_AT, type LightWork } from '@zographos/core/light';
import { sharedFloat32 } from '@zographos/core/shared-arrays';
import type { LightPass } from '../options.ts';
import type { LightReport } from '../report.ts';

/** What all light is the sum of. */
const COMBINED = [
  ...[ACCUMULATED.diffuseDirect, ACCUMULATED.diffuseIndirect],
  ...[ACCUMULATED.reflectionDirect, ACCUMULATED.reflectionIndirect],
  ...[ACCUMULATED.refraction, ACCUMULATED.emission],
] as const;

/** What each pass is the sum of. */
const PARTS: Record<Exclude<LightPass, 'shadow' | 'sky' | 'direction' | 'noise' | 'groups'>, readonly number[]> = {
  combined: COMBINED,
  noisy: COMBINED,
  direct: [ACCUMULATED.diffuseDirect, ACCUMULATED.reflectionDirect],
  indirect: [ACCUMULATED.diffuseIndirect, ACCUMULATED.reflectionIndirect],
  diffuse: [ACCUMULATED.diffuseDirect, ACCUMULATED.diffuseIndirect],
  'diffuse-direct': [ACCUMULATED.diffuseDirect],
  'diffuse-indirect': [ACCUMULATED.diffuseIndirect],
  reflection: [ACCUMULATED.reflectionDirect, ACCUMULATED.reflectionIndirect],
  refraction: [ACCUMULATED.refraction],
  emission: [ACCUMULATED.emission],
  irradiance: [ACCUMULATED.irradiance],
};

/** Numbers that are kept for each texel. */
const strideOf = ({ settings }: LightWork): number => accumulatedPerTexel(settings.groups);

/** The picture of a pass. @param samples that were taken */
export function passOf(pass: Exclude<LightPass, 'groups'>, work: LightWork, samples: number): Image {
  const { target, plan } = work;
  const { sums } = target;
  const { size } = plan;
  const stride = strideOf(work);
  const single = (of: (at: number) => number): Image => {
    const data = sharedFloat32(size.width * size.height);
    for (let i = 0; i < data.length; i++) data[i] = of(i);
    return { ...size, channels: 1, data };
  };
  if (pass === 'shadow') {
    // How much of what lights send here is blocked.
    return single((i) => {
      const sent = sums[i * stride + ACCUMULATED.unoccluded]!;
      return sent > 0 ? 1 - sums[i * stride + ACCUMULATED.visible]! / sent : 0;
    });
  }
  if (pass === 'direction') return mainDirection(work);
  if (pass === 'sky') return single((i) => sums[i * stride + ACCUMULATED.sky]! / samples);
  if (pass === 'noise') return single((i) => Math.abs(target.differences[i]!) / samples);
  return sumOf(PARTS[pass], work, samples);
}

/**
 * The mean of the unit directions that irradiance comes from, each weighed by it: band 1 of its spherical harmonics over
 * band 0. Of length 1 where all comes from one side, 2/3 along the normal under an even sky.
 */
function mainDirection(work: LightWork): Image {
  const { target, plan } = work;
  const { sums } = target;
  const stride = strideOf(work);
  const data = sharedFloat32(plan.size.width * plan.size.height * 3);
  for (let i = 0; i < data.length / 3; i++) {
    const at = i * stride;
    const falling =
      sums[at + ACCUMULATED.irradiance]! +
      sums[at + ACCUMULATED.irradiance + 1]! +
      sums[at + ACCUMULATED.irradiance + 2]!;
    if (!(falling > 0)) continue;
    for (let k = 0; k < 3; k++) data[i * 3 + k] = sums[at + ACCUMULATED.direction + k]! / falling;
  }
  return { ...plan.size, channels: 3, data, range: [-1, 1] };
}

/** What one light group gives. @param samples that were taken */
export const groupOf = (group: number, work: LightWork, samples: number): Image =>
  sumOf([GROUPS_AT + group * 3], work, samples);

function sumOf(parts: readonly number[], work: LightWork, samples: number): Image {
  const { target, plan } = work;
  const stride = strideOf(work);
  const data = sharedFloat32(plan.size.width * plan.size.height * 3);
  for (let i = 0; i < data.length / 3; i++) {
    for (let c = 0; c < 3; c++) {
      let sum = 0;
      for (const part of parts) sum += target.sums[i * stride + part + c]!;
      data[i * 3 + c] = sum / samples;
    }
  }
  return { ...plan.size, channels: 3, data };
}

/** The sum of the combined light of a texel over all its samples. @param c the colour, 0 to 2 */
export function combinedAt(work: LightWork, texel: number, c: number): number {
  const at = texel * strideOf(work) + c;
  let sum = 0;
  for (const part of COMBINED) sum += work.target.sums[at + part]!;
  return sum;
}

/** How bright it is, and how sure. @param samples that were taken */
export function measured(
  work: LightWork,
  samples: number,
): Pick<LightReport, 'texels' | 'noise' | 'mean'> & { squares: number } {
  const { differences, states } = work.target;
  const mean: [number, number, number] = [0, 0, 0];
  let [covered, squares] = [0, 0];
  for (let i = 0; i < states.length; i++) {
    if (states[i] !== TexelState.covered) continue;
    covered++;
    for (let c = 0; c < 3; c++) mean[c]! += combinedAt(work, i, c) / samples;
    squares += (differences[i]! / samples) ** 2;
  }
  if (covered > 0) for (let c = 0; c < 3; c++) mean[c]! /= covered;
  return { texels: covered, noise: noiseOf(squares, covered, mean, samples), mean, squares };
}

/** Standard error of a texel, root of the mean square, as a share of the mean light. */
export function noiseOf(squares: number, texels: number, mean: readonly number[], samples: number): number {
  const level = (mean[0]! + mean[1]! + mean[2]!) / 3;
  return level > 0 && samples > 1 ? Math.sqrt(squares / Math.max(1, texels)) / level : 0;
}
