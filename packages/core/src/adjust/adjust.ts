import { linearToOklab, oklabToLinear } from '../color/oklab.ts';
import { blur } from '../image/filter/blur.ts';
import { changeColor, UNCHANGED } from '../image/blend.ts';
import type { Image } from '../image/image.ts';
import { meanOf } from '../image/planes.ts';
import type { Border } from '../image/filter/resample.ts';
import { quickLinearToSrgb, quickSrgbToLinear } from '../color/srgb.ts';
import { toneCurve, type CurvePoint } from './curve.ts';
import { denoise } from './denoise.ts';

/**
 * One thing done to a picture. Values are those on screen, 0 to 1: colours as the eye takes them, data as it is. Radii
 * are shares of the picture's width, so that a small preview shows what is to come.
 */
export type Adjustment =
  | { do: 'levels'; black: number; white: number; gamma: number }
  | { do: 'curves'; points: readonly CurvePoint[] }
  | { do: 'contrast'; amount: number }
  | { do: 'saturation'; amount: number }
  | { do: 'hue'; degrees: number }
  | { do: 'invert' }
  | { do: 'blur'; radius: number }
  | { do: 'sharpen'; radius: number; amount: number }
  | { do: 'denoise'; radius: number; edge: number }
  | { do: 'high-pass'; radius: number }
  | { do: 'equalise'; amount: number }
  | { do: 'clamp'; low: number; high: number }
  | { do: 'remap'; low: number; high: number };

/** Adjusts a picture, step by step. @param image samples as light if its colour space is sRGB */
export function adjust(image: Image, steps: readonly Adjustment[], border: Border): Image {
  if (steps.length === 0) return image;
  const toScreen = image.colorSpace === 'srgb';
  const colors = Math.min(3, image.channels < 3 ? 1 : 3);
  let shown: Image = { ...image, data: image.data.slice() };
  if (toScreen) eachColor(shown, colors, (value) => quickLinearToSrgb(Math.max(0, value)));
  for (const step of steps) shown = ADJUST[step.do](shown, step as never, border);
  if (toScreen) eachColor(shown, colors, (value) => quickSrgbToLinear(Math.max(0, Math.min(1, value))));
  return shown;
}

type Adjust<Kind extends Adjustment['do']> = (
  image: Image,
  step: Extract<Adjustment, { do: Kind }>,
  border: Border,
) => Image;

const ADJUST: { [Kind in Adjustment['do']]: Adjust<Kind> } = {
  levels: (image, { black, white, gamma }) => {
    const span = white - black || 1e-6;
    return byValue(image, (value) => Math.max(0, Math.min(1, (value - black) / span)) ** (1 / gamma));
  },
  curves: (image, { points }) => byValue(image, toneCurve(points)),
  contrast: (image, { amount }) => byColor(image, (color) => changeColor(color, { ...UNCHANGED, contrast: amount })),
  saturation: (image, { amount }) =>
    image.channels < 3 ? image : byColor(image, (color) => changeColor(color, { ...UNCHANGED, saturation: amount })),
  hue: (image, { degrees }) => (image.channels < 3 ? image : byColor(image, hueTurn(degrees))),
  invert: (image) => byValue(image, (value) => 1 - value),
  blur: (image, { radius }, border) => blur(image, radius * image.width, border),
  sharpen: (image, { radius, amount }, border) => {
    const soft = blur(image, radius * image.width, border).data;
    return { ...image, data: image.data.map((value, i) => value + amount * (value - soft[i]!)) };
  },
  denoise: (image, { radius, edge }, border) => denoise(image, radius * image.width, edge, border),
  'high-pass': (image, { radius }, border) => {
    const soft = blur(image, radius * image.width, border).data;
    const mean = meanOf(image.data);
    return { ...image, data: image.data.map((value, i) => value - soft[i]! + mean) };
  },
  equalise: (image, { amount }) => equalised(image, amount),
  clamp: (image, { low, high }) => byValue(image, (value) => Math.max(low, Math.min(high, value))),
  remap: (image, { low, high }) => byValue(image, (value) => low + value * (high - low)),
};

function eachColor(image: Image, colors: number, of: (value: number) => number): void {
  const { data, channels } = image;
  for (let at = 0; at < data.length; at += channels) {
    for (let c = 0; c < colors; c++) data[at + c] = of(data[at + c]!);
  }
}

/** Alpha, where there is one, stays. */
function byValue(image: Image, of: (value: number) => number): Image {
  const result = { ...image, data: image.data.slice() };
  eachColor(result, image.channels < 3 ? 1 : 3, of);
  return result;
}

function byColor(image: Image, change: (color: Float64Array) => void): Image {
  const { channels } = image;
  const data = image.data.slice();
  const color = new Float64Array(3);
  for (let at = 0; at < data.length; at += channels) {
    for (let c = 0; c < 3; c++) color[c] = data[at + (channels < 3 ? 0 : c)]!;
    change(color);
    for (let c = 0; c < (channels < 3 ? 1 : 3); c++) data[at + c] = color[c]!;
  }
  return { ...image, data };
}

/** Turns hue in OKLab, where lightness and chroma stay what they look like. */
function hueTurn(degrees: number): (color: Float64Array) => void {
  const [cos, sin] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
  return (color) => {
    const [L, a, b] = linearToOklab(
      ...([0, 1, 2].map((k) => quickSrgbToLinear(color[k]!)) as [number, number, number]),
    );
    oklabToLinear([L, a * cos - b * sin, a * sin + b * cos]).forEach((value, k) => {
      color[k] = quickLinearToSrgb(Math.max(0, Math.min(1, value)));
    });
  };
}

const EQUALISE_BINS = 4096;

/** Spreads values so that all are about as frequent; colours by their tone, keeping their hue. */
function equalised(image: Image, amount: number): Image {
  const { channels, data } = image;
  const colors = channels < 3 ? 1 : 3;
  const texels = data.length / channels;
  const tones = new Float32Array(texels);
  for (let i = 0, at = 0; i < texels; i++, at += channels) {
    tones[i] = colors === 1 ? data[at]! : 0.2126 * data[at]! + 0.7152 * data[at + 1]! + 0.0722 * data[at + 2]!;
  }
  const counts = new Float64Array(EQUALISE_BINS);
  const bin = (value: number): number => Math.max(0, Math.min(EQUALISE_BINS - 1, Math.floor(value * EQUALISE_BINS)));
  for (const value of tones) counts[bin(value)]!++;
  // Each value becomes the share of those below it, half of its own among them.
  const place = new Float64Array(EQUALISE_BINS);
  let below = 0;
  counts.forEach((count, i) => {
    place[i] = (below + count / 2) / texels;
    below += count;
  });
  const result = data.slice();
  for (let i = 0, at = 0; i < texels; i++, at += channels) {
    const shift = (place[bin(tones[i]!)]! - tones[i]!) * amount;
    for (let c = 0; c < colors; c++) result[at + c] = data[at + c]! + shift;
  }
  return { ...image, data: result };
}
