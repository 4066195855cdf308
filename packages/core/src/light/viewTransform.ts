import type { Image } from '../image/image.ts';
import { linearToSrgb, srgbToLinear } from '../color/srgb.ts';

/** How light becomes a picture for a screen. */
export const VIEW_TRANSFORMS = ['srgb', 'filmic'] as const;
export type ViewTransform = (typeof VIEW_TRANSFORMS)[number];

/** How light is shown: through which transform, and how many doublings of the light before that. */
export interface ScreenView {
  view: ViewTransform;
  exposure: number;
}

/**
 * Light as a screen shows it, 0 to 1 and linear still: `srgb` cuts off what is brighter than white; `filmic` rolls it off by
 * (x (6.2 x + 0.5)) / (x (6.2 x + 1.7) + 0.06) with x = max(0, light − 0.004), which gives screen values (Hejl and
 * Burgess-Dawson, "Filmic Tonemapping", 2010).
 */
function shown(value: number, view: ViewTransform): number {
  const light = Math.max(0, value);
  if (view === 'srgb') return Math.min(1, light);
  const x = Math.max(0, light - 0.004);
  return srgbToLinear(Math.min(1, (x * (6.2 * x + 0.5)) / (x * (6.2 * x + 1.7) + 0.06)));
}

/**
 * Makes light a picture for a screen, as a view transform has it.
 * @param exposure doublings of the light before that
 * @returns as light still, which whoever writes it puts the screen's curve on
 */
export function forScreen(image: Image, view: ViewTransform, exposure: number): Image {
  const scale = 2 ** exposure;
  return { ...image, data: image.data.map((value) => shown(value * scale, view)), colorSpace: 'srgb' };
}

/** What the mean of a picture is brought to on a screen, as light. */
const MIDDLE = 0.25;

/** Doublings of light that suit a screen: they bring its mean to a quarter of white; 0 for black. @example exposureOf([1, 1, 1]) // -2 */
export function exposureOf(mean: readonly number[]): number {
  const level = mean.reduce((sum, value) => sum + value, 0) / mean.length;
  return level > 0 ? Math.log2(MIDDLE / level) : 0;
}

/** Bits of a 32-bit float that are dropped: what is left of its mantissa tells 0.2 %, half a step of the screen. */
const DROPPED = 14;
const tables = new Map<ViewTransform, Uint8Array>();

/** The byte of a screen for each float that is not negative, by its upper bits. */
function tableOf(view: ViewTransform): Uint8Array {
  const known = tables.get(view);
  if (known) return known;
  const bits = new Uint32Array(1);
  const value = new Float32Array(bits.buffer);
  const table = Uint8Array.from({ length: 2 ** (31 - DROPPED) }, (_, i) => {
    // The middle of all floats that share these bits.
    bits[0] = (i << DROPPED) + (1 << (DROPPED - 1));
    return Number.isFinite(value[0]) ? Math.round(linearToSrgb(shown(value[0]!, view)) * 255) : 255;
  });
  tables.set(view, table);
  return table;
}

/**
 * Light as bytes of a screen: the same as `forScreen` through the sRGB curve, to one step of 255, fast enough for every
 * frame.
 * @param channel 0 to 2 for one of them in grey; null for all @returns r, g, b, a for each texel
 */
export function screenBytes(
  { data, channels }: Pick<Image, 'data' | 'channels'>,
  { view, exposure }: ScreenView,
  channel: number | null = null,
): Uint8ClampedArray<ArrayBuffer> {
  const table = tableOf(view);
  const scale = 2 ** exposure;
  const texels = data.length / channels;
  const scaled = Float32Array.from(data, (value) => (value > 0 ? value * scale : 0));
  const bits = new Uint32Array(scaled.buffer);
  const bytes = new Uint8ClampedArray(texels * 4);
  for (let i = 0; i < texels; i++) {
    for (let c = 0; c < 3; c++) {
      const from = Math.min(channel ?? c, channels - 1);
      bytes[i * 4 + c] = table[bits[i * channels + from]! >>> DROPPED]!;
    }
    bytes[i * 4 + 3] = 255;
  }
  return bytes;
}
