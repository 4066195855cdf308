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
  /** What holds where no pick does and the picture is as it is on average. */
  base: number;
  /** Added for each unit of OKLab lightness above the mean. */
  tone: number;
  /** Added for each 0.1 of OKLab chroma above the mean. */
  saturation: number;
  /** Added where the surface is hollow: as a whole in the deepest cavities, nothing on what is level. */
  cavity: number;
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

/** Chroma that `saturation` is told for. */
const CHROMA = 0.1;

/**
 * A map by the tones of a picture and by picked ones: roughness, metal, specular, opacity. What is dark, colourful or
 * hollow mostly is rougher than what is light, grey or level: worn and washed clean (common practice, no source).
 * @param lab of `labOf`
 * @param cavities of `cavityFromHeight`; needed where `cavity` is not 0
 */
export function pickedMap(lab: Image, settings: PickedMap, border: Border, cavities: Image | null = null): Image {
  const { base, picks, detail } = settings;
  const map = planeLike(lab);
  map.data.fill(base);
  addTones(map, lab, settings, cavities);
  for (const pick of picks) {
    const { data } = pickMask(lab, pick);
    for (let i = 0; i < data.length; i++) map.data[i]! += (pick.value - map.data[i]!) * data[i]!;
  }
  if (detail !== 0) {
    const light = planeLike(lab);
    for (let i = 0; i < light.data.length; i++) light.data[i] = lab.data[i * 3]!;
    const soft = blur(light, DETAIL_WIDTH * lab.width, border);
    for (let i = 0; i < map.data.length; i++) map.data[i]! += detail * (light.data[i]! - soft.data[i]!);
  }
  for (let i = 0; i < map.data.length; i++) map.data[i] = Math.max(0, Math.min(1, map.data[i]!));
  return map;
}

function addTones(map: Image, { data }: Image, settings: PickedMap, cavities: Image | null): void {
  const { tone, saturation, cavity } = settings;
  const values = map.data;
  if (tone !== 0 || saturation !== 0) {
    const chromaAt = (at: number): number => Math.hypot(data[at + 1]!, data[at + 2]!);
    let [light, chroma] = [0, 0];
    for (let at = 0; at < data.length; at += 3) {
      light += data[at]!;
      chroma += chromaAt(at);
    }
    const count = values.length;
    for (let i = 0, at = 0; i < count; i++, at += 3) {
      values[i]! += tone * (data[at]! - light / count) + (saturation / CHROMA) * (chromaAt(at) - chroma / count);
    }
  }
  if (cavity !== 0 && cavities) for (let i = 0; i < values.length; i++) values[i]! += cavity * (1 - cavities.data[i]!);
}
