import type { Image } from '../image/image.ts';
import type { Border } from '../image/filter/resample.ts';
import { kernelTeam } from '../kernel/kernelTeam.ts';
import type { OcclusionOptions } from './cuts.ts';
import { skyInKernel } from './skyInKernel.ts';
import { skyPlainly } from './skyPlainly.ts';

export type { OcclusionOptions } from './cuts.ts';

/**
 * Openness of a height field: in each of several upright cuts through a place both horizons are found, and the sky
 * between them counted by the cosine to the surface's own normal, in closed form (Jimenez, Wu, Pesce and Jarabo,
 * "Practical Real-Time Strategies for Accurate Indirect Occlusion", 2016, section 4). Every texel along a cut counts.
 * The kernel counts the sky in single precision: it differs from plain code by about 1e-6.
 * @param height one channel, 0 to 1
 * @returns 1 for open, 0 for closed
 */
export function occlusionFromHeight(height: Image, options: OcclusionOptions, border: Border): Image {
  const team = kernelTeam();
  const sum = team ? skyInKernel(team, height, options, border) : skyPlainly(height, options, border);
  const { data } = sum;
  for (let i = 0; i < data.length; i++) data[i] = Math.max(0, Math.min(1, data[i]! / options.slices));
  return sum;
}
