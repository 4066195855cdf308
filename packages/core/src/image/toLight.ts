import { srgbToLinear } from '../color/srgb.ts';
import type { Image } from './image.ts';

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
