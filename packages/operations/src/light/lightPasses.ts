import type { Image } from '@zographos/core/image';
import { ACCUMULATED, GROUPS_AT, type LightTarget, type LightWork } from '@zographos/core/light';
import type { Size } from '@zographos/core/math';
import type { LightReport } from './report.ts';
import type { LightPass } from './settings.ts';

/** What each pass is the sum of. */
const PARTS: Record<Exclude<LightPass, 'shadow' | 'sky' | 'groups'>, readonly number[]> = {
  combined: [
    ...[
      ACCUMULATED.diffuseDirect,
      ACCUMULATED.diffuseIndirect,
      ACCUMULATED.reflectionDirect,
      ACCUMULATED.reflectionIndirect,
    ],
    ...[ACCUMULATED.refraction, ACCUMULATED.emission],
  ],
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

/** The picture of a pass. @param samples that were taken @param stride numbers for each texel */
export function passOf(
  pass: Exclude<LightPass, 'groups'>,
  { target, plan: { size } }: LightWork,
  samples: number,
  stride: number,
): Image {
  const { sums } = target;
  const texels = size.width * size.height;
  if (pass === 'shadow') {
    // How much of what lamps send here is blocked.
    const data = new Float32Array(texels);
    for (let i = 0; i < texels; i++) {
      const sent = sums[i * stride + ACCUMULATED.unoccluded]!;
      data[i] = sent > 0 ? 1 - sums[i * stride + ACCUMULATED.visible]! / sent : 0;
    }
    return { ...size, channels: 1, data };
  }
  if (pass === 'sky') {
    const data = Float32Array.from({ length: texels }, (_, i) => sums[i * stride + ACCUMULATED.sky]! / samples);
    return { ...size, channels: 1, data };
  }
  return sumOf(PARTS[pass], target, size, samples, stride);
}

/** What one light group gives. */
export const groupOf = (group: number, { target, plan: { size } }: LightWork, samples: number, stride: number): Image =>
  sumOf([GROUPS_AT + group * 3], target, size, samples, stride);

function sumOf(parts: readonly number[], { sums }: LightTarget, size: Size, samples: number, stride: number): Image {
  const texels = size.width * size.height;
  const data = new Float32Array(texels * 3);
  for (let i = 0; i < texels; i++) {
    for (let c = 0; c < 3; c++) {
      let sum = 0;
      for (const part of parts) sum += sums[i * stride + part + c]!;
      data[i * 3 + c] = sum / samples;
    }
  }
  return { ...size, channels: 3, data };
}

/** How bright it is, and how sure. @param samples that were taken @param stride numbers for each texel */
export function measured(
  { target, plan: { size } }: LightWork,
  samples: number,
  stride: number,
): Pick<LightReport, 'samples' | 'paths' | 'texels' | 'noise' | 'mean'> {
  const { sums, differences, states } = target;
  const mean: [number, number, number] = [0, 0, 0];
  let [covered, squares] = [0, 0];
  for (let i = 0; i < size.width * size.height; i++) {
    if (states[i] === 0) continue;
    covered++;
    for (const part of PARTS.combined) for (let c = 0; c < 3; c++) mean[c]! += sums[i * stride + part + c]! / samples;
    squares += (differences[i]! / samples) ** 2;
  }
  if (covered > 0) for (let c = 0; c < 3; c++) mean[c]! /= covered;
  const level = (mean[0] + mean[1] + mean[2]) / 3;
  const noise = level > 0 && samples > 1 ? Math.sqrt(squares / Math.max(1, covered)) / level : 0;
  return { samples, paths: covered * samples, texels: covered, noise, mean };
}
