import type { Image } from '../image/image.ts';
import type { Border } from '../image/filter/resample.ts';
import { kernelTeam } from '../kernel/kernelTeam.ts';
import type { OcclusionOptions } from './cuts.ts';
import { occlusionInKernel } from './occlusionInKernel.ts';
import { occlusionPlainly } from './occlusionPlainly.ts';

export type { OcclusionOptions } from './cuts.ts';

/**
 * Openness of a height field: in each of several upright cuts through a place both horizons are found, and the sky
 * between them counted by the cosine to the surface's own normal, in closed form (Jimenez, Wu, Pesce and Jarabo,
 * "Practical Real-Time Strategies for Accurate Indirect Occlusion", 2016, section 4). Every texel along a cut counts.
 * The kernel counts the sky in single precision, and a horizon in it may be too low by 0.03°: it differs from plain code by
 * less than 5e-5, on average by 1e-6.
 * @param height one channel, 0 to 1
 * @returns 1 for open, 0 for closed
 */
export function occlusionFromHeight(height: Image, options: OcclusionOptions, border: Border): Image {
  const team = kernelTeam();
  return team ? occlusionInKernel(team, height, options, border) : occlusionPlainly(height, options, border);
}
