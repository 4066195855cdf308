import { LUMINANCE } from '../color/luminance.ts';
import { quickLinearToSrgb } from '../color/srgb.ts';
import { kernelTeam } from '../kernel/kernelTeam.ts';
import type { Image } from './image.ts';
import { pointOperationsInKernel } from './pointOperations.ts';

/** A picture of one channel with the size of another. */
export const planeLike = ({ width, height }: Pick<Image, 'width' | 'height'>, data?: Float32Array): Image => ({
  width,
  height,
  channels: 1,
  data: data ?? new Float32Array(width * height),
});

/** One channel of luminance; grey pictures are their own. */
export function luminance(image: Image): Image {
  const { channels, data } = image;
  if (channels === 1) return image;
  const plane = planeLike(image);
  for (let i = 0, at = 0; i < plane.data.length; i++, at += channels) {
    plane.data[i] =
      channels < 3 ? data[at]! : data[at]! * LUMINANCE[0] + data[at + 1]! * LUMINANCE[1] + data[at + 2]! * LUMINANCE[2];
  }
  return plane;
}

/** Tone as the eye takes it, 0 to 1: luminance through the sRGB curve for colours, data as it is. */
export function tone(image: Image): Image {
  const team = kernelTeam();
  if (team && image.colorSpace === 'srgb') {
    const mix = image.channels < 3 ? [] : [{ do: 'mix', weights: LUMINANCE } as const];
    const operations = [...mix, { do: 'clamp', low: 0, high: 1 } as const, { do: 'to-screen' } as const];
    return planeLike(image, pointOperationsInKernel(team, image, operations, 1));
  }
  const plane = luminance(image);
  if (image.colorSpace !== 'srgb') return plane === image ? { ...image, data: image.data.slice() } : plane;
  const seen = planeLike(image);
  for (let i = 0; i < seen.data.length; i++) seen.data[i] = quickLinearToSrgb(Math.max(0, Math.min(1, plane.data[i]!)));
  return seen;
}

export function meanOf(data: ArrayLike<number>): number {
  let sum = 0;
  for (let i = 0; i < data.length; i++) sum += data[i]!;
  return data.length > 0 ? sum / data.length : 0;
}

/** Step that is flat at both ends, from 0 at `low` to 1 at `high`; a plain step if both are the same. */
export function smoothStep(low: number, high: number, value: number): number {
  if (high <= low) return value < low ? 0 : 1;
  const share = Math.max(0, Math.min(1, (value - low) / (high - low)));
  return share * share * (3 - 2 * share);
}
