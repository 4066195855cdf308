import type { Image } from './image.ts';

/** The sRGB transfer functions of IEC 61966-2-1, for values 0 to 1. */

export function linearToSrgb(linear: number): number {
  return linear <= 0.0031308 ? linear * 12.92 : 1.055 * linear ** (1 / 2.4) - 0.055;
}

export function srgbToLinear(encoded: number): number {
  return encoded <= 0.04045 ? encoded / 12.92 : ((encoded + 0.055) / 1.055) ** 2.4;
}

/** Takes the sRGB curve off the colours of a picture, in place; alpha stays. */
export function toLight({ data, channels }: Image): void {
  const colors = channels < 3 ? 1 : 3;
  // Values from files of 8 or 16 bit are all among these.
  const known = Float32Array.from({ length: 65536 }, (_, i) => srgbToLinear(i / 65535));
  for (let i = 0; i < data.length; i++) {
    if (i % channels >= colors) continue;
    const stored = data[i]! * 65535;
    const nearest = Math.round(stored);
    const isKnown = Math.abs(stored - nearest) < 0.01 && nearest >= 0 && nearest < 65536;
    data[i] = isKnown ? known[nearest]! : srgbToLinear(data[i]!);
  }
}

const STEPS = 8192;
/** Eight bits through the sRGB curve for light in even steps, each at its middle. */
let screenBytes: Uint8Array | null = null;

/**
 * Light as a byte on screen, quickly: off by one at most in the darkest tenth of a per cent. For pictures to look at;
 * files are written by `quantise`.
 */
export function screenByte(linear: number): number {
  screenBytes ??= Uint8Array.from({ length: STEPS + 1 }, (_, i) => Math.round(255 * linearToSrgb(i / STEPS)));
  if (!(linear > 0)) return 0;
  return linear >= 1 ? 255 : screenBytes[(linear * STEPS + 0.5) | 0]!;
}
