import { linearToOklab } from '../color/oklab.ts';
import { parseColor } from '../color/ramp.ts';
import { kernelTeam } from '../kernel/kernelTeam.ts';
import { pointOperationsInKernel } from '../image/pointOperations.ts';
import { blur } from '../image/filter/blur.ts';
import type { Image } from '../image/image.ts';
import { planeLike, smoothStep } from '../image/planes.ts';
import type { Border } from '../image/filter/resample.ts';

/** A colour that was picked, and what the map holds where the picture is like it. */
export interface Pick {
  /** `#rrggbb`. */
  color: string;
  /** Distance in OKLab up to which a colour counts as alike. */
  tolerance: number;
  /** Distance beyond over which it counts less and less; 0 for a hard edge. */
  softness: number;
  value: number;
}

export interface PickedMap {
  /** What holds where no pick does. */
  base: number;
  /** Later picks lie over earlier ones. */
  picks: readonly Pick[];
  /** How much of the picture's fine tones is added, −1 to 1. */
  detail: number;
}

/** Lightness and opponent axes of every texel, three channels. @param color samples as light */
export function labOf(color: Image): Image {
  const { channels, data, width, height } = color;
  const team = kernelTeam();
  if (team) {
    return { width, height, channels: 3, data: pointOperationsInKernel(team, color, [{ do: 'to-oklab' }], 3) };
  }
  const labs = new Float32Array(width * height * 3);
  for (let i = 0, at = 0; at < labs.length; i += channels, at += 3) {
    const [r, g, b] = channels < 3 ? [data[i]!, data[i]!, data[i]!] : [data[i]!, data[i + 1]!, data[i + 2]!];
    const [L, A, B] = linearToOklab(r, g, b);
    labs[at] = L;
    labs[at + 1] = A;
    labs[at + 2] = B;
  }
  return { width, height, channels: 3, data: labs };
}

/** How much each texel is like a picked colour, 0 to 1. @param lab of `labOf` */
export function pickMask(lab: Image, { color, tolerance, softness }: Pick): Image {
  const [L, a, b] = linearToOklab(...parseColor(color));
  const mask = planeLike(lab);
  // Beyond this, give or take a rounding, nothing is alike.
  const none = (tolerance + softness) ** 2 + 1e-12;
  for (let i = 0, at = 0; i < mask.data.length; i++, at += 3) {
    const l = lab.data[at]! - L;
    const x = lab.data[at + 1]! - a;
    const y = lab.data[at + 2]! - b;
    const square = l * l + x * x + y * y;
    if (square >= none) continue;
    const far = Math.sqrt(square);
    // A colour at the tolerance itself is alike still.
    mask.data[i] = far <= tolerance ? 1 : 1 - smoothStep(tolerance, tolerance + softness, far);
  }
  return mask;
}

/** How wide fine tones are at most, as a share of the width. */
const DETAIL_WIDTH = 1 / 128;

/**
 * A map by picked tones: roughness, metal, specular, opacity.
 * @param lab of `labOf`
 */
export function pickedMap(lab: Image, { base, picks, detail }: PickedMap, border: Border): Image {
  const map = planeLike(lab);
  map.data.fill(base);
  for (const pick of picks) {
    const { data } = pickMask(lab, pick);
    for (let i = 0; i < data.length; i++) map.data[i]! += (pick.value - map.data[i]!) * data[i]!;
  }
  if (detail !== 0) {
    const light = planeLike(lab);
    for (let i = 0; i < light.data.length; i++) light.data[i] = lab.data[i * 3]!;
    const soft = blur(light, DETAIL_WIDTH * lab.width, border);
    for (let i = 0; i < map.data.length; i++) {
      map.data[i] = Math.max(0, Math.min(1, map.data[i]! + detail * (light.data[i]! - soft.data[i]!)));
    }
  } else {
    for (let i = 0; i < map.data.length; i++) map.data[i] = Math.max(0, Math.min(1, map.data[i]!));
  }
  return map;
}
