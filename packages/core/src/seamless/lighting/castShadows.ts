import type { Image } from '../../image/image.ts';
import { planeLike, smoothStep } from '../../image/planes.ts';
import { medianFilter } from '../../image/filter/medianFilter.ts';
import { resample } from '../../image/filter/resample.ts';
import { LUMINANCE } from '../../color/luminance.ts';
import { conjugateGradients } from '../../math/conjugateGradients.ts';
import { guidedFilter } from './guidedFilter.ts';
import { brightnessOf, reduced, REGION_SIDE, regionsOf, textureRadius, type Regions } from './regions.ts';

/** Texels of the longer side of the copy by which borders of shadows are followed. */
const GUIDE = 512;
/** Contrasts, as natural logarithms, below which a border is none of a cast shadow, and from which on it may be one. */
const [FAINT, CLEAR] = [0.35, 0.65];

/** Light of a picture that cast shadows take away. */
export interface CastShadows {
  /** Natural logarithm of how much of the light is left: 0 in full light, below 0 in a shadow. One channel. */
  light: Image;
  /** By what it is multiplied for red, green and blue: shadows are lit by the sky and so are bluer. */
  ofColor: readonly [red: number, green: number, blue: number];
}

/**
 * Finds cast shadows by colour constancy over regions: where brightness changes much between regions and colour no more than
 * all such borders have in common, it is the light that changes; where colour changes, it is the ground (after the
 * classification of derivatives by Funt, Drew and Brockington, "Recovering Shading from Color Images", 1992, on regions as
 * of Guo, Dai and Hoiem, "Single-Image Shadow Detection and Removal using Paired Regions", 2011). The changes of light are
 * put together again by least squares.
 * @param image colours, samples as light
 * @returns null for a picture without colours
 */
export function castShadowsOf(image: Image): CastShadows | null {
  if (image.channels < 3) return null;
  const small = reduced(image, REGION_SIDE);
  const regions = regionsOf(small);
  const radius = textureRadius(small);
  const tint = tintOfBorders(regions, radius);
  const light = asDeepAsBorders(integrated(regions, changesOf(regions, tint, radius)), regions, tint, radius);
  const green = 1 - LUMINANCE[0] * tint[0] - LUMINANCE[2] * tint[1];
  const guide = reduced(image, GUIDE);
  const bright = medianFilter(brightnessOf(guide), textureRadius(guide));
  return { light: guidedFilter(light, regions.bright, bright), ofColor: [green + tint[0], green, green + tint[1]] };
}

/** Goes through all pairs of neighbours. @param visit told both, and the texels that are a reach away to either side */
function eachBorder(
  { width, height }: Image,
  reach: number,
  visit: (at: number, next: number, before: number, behind: number, isAcross: boolean) => void,
): void {
  const within = (value: number, size: number): number => Math.max(0, Math.min(size - 1, value));
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const at = y * width + x;
      if (x + 1 < width) {
        const row = y * width;
        visit(at, at + 1, row + within(x - reach, width), row + within(x + 1 + reach, width), true);
      }
      if (y + 1 < height) {
        visit(at, at + width, within(y - reach, height) * width + x, within(y + 1 + reach, height) * width + x, false);
      }
    }
  }
}

type Tint = readonly [red: number, blue: number];

/** How much redder and bluer light becomes, per unit of contrast, from the sky alone to the sun, at the least and the most. */
const OF_DAYLIGHT = { red: [0, 0.35], blue: [-0.6, 0] } as const;

/**
 * How the light of shadows differs in colour, per unit of contrast: what is usual among clear borders, as far as daylight
 * can be so (skylight is bluer than the sun, never greener or redder).
 */
function tintOfBorders({ bright, red, blue }: Regions, reach: number): Tint {
  const [reds, blues]: [number[], number[]] = [[], []];
  eachBorder(bright, reach, (_at, _next, before, behind) => {
    const contrast = bright.data[behind]! - bright.data[before]!;
    if (Math.abs(contrast) < CLEAR) return;
    reds.push((red.data[behind]! - red.data[before]!) / contrast);
    blues.push((blue.data[behind]! - blue.data[before]!) / contrast);
  });
  const median = (values: number[]): number =>
    values.length > 0 ? values.sort((a, b) => a - b)[values.length >> 1]! : 0;
  const within = (value: number, [least, most]: readonly [number, number]): number =>
    Math.max(least, Math.min(most, value));
  return [within(median(reds), OF_DAYLIGHT.red), within(median(blues), OF_DAYLIGHT.blue)];
}

/** How much a border is one of a cast shadow, 0 to 1. */
function shadowShare(
  { bright, red, blue }: Regions,
  [tintRed, tintBlue]: Tint,
  before: number,
  behind: number,
): number {
  const contrast = bright.data[behind]! - bright.data[before]!;
  const other = Math.hypot(
    red.data[behind]! - red.data[before]! - tintRed * contrast,
    blue.data[behind]! - blue.data[before]! - tintBlue * contrast,
  );
  const alike = other / (0.05 + 0.1 * Math.abs(contrast));
  return smoothStep(FAINT, CLEAR, Math.abs(contrast)) * Math.exp(-alike * alike);
}

/** Changes of light from each texel to the one to its right, and to the one below. */
function changesOf(regions: Regions, tint: Tint, reach: number) {
  const { data } = regions.bright;
  const changes = { across: new Float64Array(data.length), down: new Float64Array(data.length) };
  eachBorder(regions.bright, reach, (at, next, before, behind, isAcross) => {
    const share = shadowShare(regions, tint, before, behind);
    (isAcross ? changes.across : changes.down)[at] = share * (data[next]! - data[at]!);
  });
  return changes;
}

/** Light as deep as the borders of shadows are: what was not certain of them was lost when changes were put together. */
function asDeepAsBorders(light: Image, regions: Regions, tint: Tint, reach: number): Image {
  let [both, own] = [0, 0];
  eachBorder(light, reach, (_at, _next, before, behind) => {
    const share = shadowShare(regions, tint, before, behind);
    const deep = light.data[behind]! - light.data[before]!;
    both += share * deep * (regions.bright.data[behind]! - regions.bright.data[before]!);
    own += share * deep * deep;
  });
  const scale = own > 0 ? Math.max(1, Math.min(1.5, both / own)) : 1;
  return planeLike(
    light,
    light.data.map((value) => value * scale),
  );
}

/** Light whose changes are as much like these as can be; that of the lit half of the picture is 0, and none is above it. */
function integrated({ bright }: Regions, { across, down }: { across: Float64Array; down: Float64Array }): Image {
  const { width, height } = bright;
  const start = new Float64Array(width * height);
  for (let y = 0, at = 0; y < height; y++) {
    for (let x = 0; x < width; x++, at++) {
      if (x + 1 < width) {
        start[at]! -= across[at]!;
        start[at + 1]! += across[at]!;
      }
      if (y + 1 < height) {
        start[at]! -= down[at]!;
        start[at + width]! += down[at]!;
      }
    }
  }
  const multiply = (values: Float64Array, product: Float64Array): void => {
    product.fill(0);
    for (let y = 0, at = 0; y < height; y++) {
      for (let x = 0; x < width; x++, at++) {
        for (const next of [x + 1 < width ? at + 1 : -1, y + 1 < height ? at + width : -1]) {
          if (next < 0) continue;
          const change = values[next]! - values[at]!;
          product[at]! -= change;
          product[next]! += change;
        }
        // Held ever so slightly, for a level is not told by changes.
        product[at]! += 1e-5 * values[at]!;
      }
    }
  };
  const light = new Float64Array(width * height);
  conjugateGradients({ multiply }, start, light, { steps: 600, share: 1e-6 });
  const sorted = light.slice().sort();
  const lit = sorted[Math.floor(sorted.length * 0.75)]!;
  return planeLike(
    bright,
    Float32Array.from(light, (value) => Math.min(0, value - lit)),
  );
}

/**
 * Gives shadows the light that they lack.
 * @param strength 0 leaves them, 1 takes them away
 */
export function withoutShadows(image: Image, { light, ofColor }: CastShadows, strength: number): Image {
  const full = resample(light, image, 'linear');
  const data = image.data.slice();
  for (let i = 0, at = 0; i < full.data.length; i++, at += image.channels) {
    const missing = -strength * full.data[i]!;
    if (missing === 0) continue;
    for (let c = 0; c < 3; c++) data[at + c]! *= Math.exp(missing * ofColor[c]!);
  }
  return { ...image, data };
}
