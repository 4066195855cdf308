import type { Border } from './resample.ts';

/** Boxes laid over each other; four come within a per cent of the bell curve. */
export const PASSES = 4;

/** A box with whole texels up to a radius, and a share of the next one at either end. */
export interface Box {
  radius: number;
  /** Weight of the texels at both ends, beside 1 for those within. */
  end: number;
  /** What a line is multiplied by after all passes. */
  scale: number;
}

/** The box whose variance, as often as there are passes, is that of a Gaussian. @param sigma of the Gaussian, in texels */
export function boxOf(sigma: number): Box {
  const variance = (sigma * sigma) / PASSES;
  const radius = Math.floor((Math.sqrt(12 * variance + 1) - 1) / 2);
  const whole = 2 * radius + 1;
  // Solved for: variance · (whole + 2 end) = r (r + 1) (2 r + 1) / 3 + 2 end (r + 1)².
  const end = (variance * whole - (radius * (radius + 1) * whole) / 3) / (2 * ((radius + 1) ** 2 - variance));
  return { radius, end, scale: (whole + 2 * end) ** -PASSES };
}

/** How far all passes reach, in texels. */
export const reachOf = ({ radius }: Box): number => PASSES * (radius + 1);

/** Which texel lies at each place of a line that is drawn out beyond both of its ends as far as all passes reach. */
export function drawnOut(size: number, box: Box, border: Border): Int32Array<ArrayBuffer> {
  const margin = reachOf(box);
  return Int32Array.from({ length: size + 2 * margin }, (_, i) => {
    const at = i - margin;
    return border === 'clamp' ? Math.max(0, Math.min(size - 1, at)) : ((at % size) + size) % size;
  });
}
