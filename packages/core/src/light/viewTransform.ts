import type { Image } from '../image/image.ts';
import { srgbToLinear } from '../color/srgb.ts';

/** How light becomes a picture for a screen. */
export const VIEW_TRANSFORMS = ['srgb', 'filmic'] as const;
export type ViewTransform = (typeof VIEW_TRANSFORMS)[number];

/**
 * Makes light a picture for a screen, 0 to 1: `srgb` cuts off what is brighter than white; `filmic` rolls it off by
 * (x (6.2 x + 0.5)) / (x (6.2 x + 1.7) + 0.06) with x = max(0, light − 0.004), which gives screen values (Hejl and
 * Burgess-Dawson, "Filmic Tonemapping", 2010).
 * @param exposure doublings of the light before that
 * @returns as light still, which whoever writes it puts the screen's curve on
 */
export function forScreen(image: Image, view: ViewTransform, exposure: number): Image {
  const scale = 2 ** exposure;
  const data = image.data.map((value) => {
    const light = Math.max(0, value * scale);
    if (view === 'srgb') return Math.min(1, light);
    const x = Math.max(0, light - 0.004);
    return srgbToLinear(Math.min(1, (x * (6.2 * x + 0.5)) / (x * (6.2 * x + 1.7) + 0.06)));
  });
  return { ...image, data, colorSpace: 'srgb' };
}
