import { colorRamp, type ColorStop } from '../color/ramp.ts';
import { linearToOklab, oklabToLinear } from '../color/oklab.ts';
import { blur } from '../image/filter/blur.ts';
import { changeColor, UNCHANGED } from '../image/blend.ts';
import type { Image } from '../image/image.ts';
import { meanOf } from '../image/planes.ts';
import type { Border } from '../image/filter/resample.ts';
import { quickLinearToSrgb, quickSrgbToLinear } from '../color/srgb.ts';
import { kernelTeam, type KernelTeam } from '../kernel/kernelTeam.ts';
import { pointOperationsInKernel, type PointOperation } from '../image/pointOperations.ts';
import { curvePieces, toneCurve, type CurvePoint } from './curve.ts';
import { denoise } from './denoise.ts';

/**
 * One thing done to a picture. Values are those on screen, 0 to 1: colours as the eye takes them, data as it is. Radii
 * are shares of the picture's width, so that a small preview shows what is to come.
 */
export type Adjustment =
  | { do: 'levels'; black: number; white: number; gamma: number }
  | { do: 'curves'; points: readonly CurvePoint[] }
  | { do: 'brightness'; amount: number }
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
  | { do: 'remap'; low: number; high: number }
  | { do: 'ramp'; stops: readonly ColorStop[] };

/**
 * Adjusts a picture, step by step. In the kernel steps that look at one texel alone are done together.
 * @param image samples as light if its colour space is sRGB
 */
export function adjust(image: Image, steps: readonly Adjustment[], border: Border): Image {
  if (steps.length === 0) return image;
  const team = kernelTeam();
  if (team) return adjustInKernel(team, image, steps, border);
  const toScreen = image.colorSpace === 'srgb';
  const colors = Math.min(3, image.channels < 3 ? 1 : 3);
  let shown: Image = { ...image, data: image.data.slice() };
  if (toScreen) eachColor(shown, colors, (value) => quickLinearToSrgb(Math.max(0, value)));
  for (const step of steps) shown = adjustOnce(shown, step, border);
  if (toScreen) eachColor(shown, colors, (value) => quickSrgbToLinear(Math.max(0, Math.min(1, value))));
  return shown;
}

/** One step, of a picture as it is on screen. */
function adjustOnce(shown: Image, step: Adjustment, border: Border): Image {
  return ADJUST[step.do](shown, step as never, border);
}

function adjustInKernel(team: KernelTeam, image: Image, steps: readonly Adjustment[], border: Border): Image {
  const onScreen = image.colorSpace === 'srgb';
  const before: PointOperation[] = onScreen ? [{ do: 'to-screen' }] : [];
  const after: PointOperation[] = onScreen ? [{ do: 'clamp', low: 0, high: 1 }, { do: 'to-light' }] : [];
  let shown = image;
  let waiting = before;
  const doWaiting = (): void => {
    if (waiting.length > 0) shown = { ...shown, data: pointOperationsInKernel(team, shown, waiting) };
    waiting = [];
  };
  for (const step of steps) {
    const own = pointOperationsOf(step, image.channels < 3 ? 1 : 3);
    if (own) waiting.push(...own);
    else {
      doWaiting();
      shown = adjustOnce(shown, step, border);
    }
  }
  waiting.push(...after);
  doWaiting();
  return shown;
}

const UNIT: PointOperation = { do: 'clamp', low: 0, high: 1 };

/** A step as what is done to each texel by itself; null where its neighbours count too. */
function pointOperationsOf(step: Adjustment, colors: 1 | 3): PointOperation[] | null {
  switch (step.do) {
    case 'levels': {
      const span = step.white - step.black || 1e-6;
      const stretch: PointOperation = { do: 'scale-and-shift', by: 1 / span, shift: -step.black / span };
      return [stretch, UNIT, ...(step.gamma === 1 ? [] : [{ do: 'power', exponent: 1 / step.gamma } as const])];
    }
    case 'curves':
      return [{ do: 'curve', pieces: curvePieces(step.points) }];
    case 'brightness':
      return [{ do: 'scale-and-shift', by: 1, shift: step.amount }, UNIT];
    case 'contrast':
      return [{ do: 'scale-and-shift', by: step.amount, shift: 0.5 - 0.5 * step.amount }, UNIT];
    case 'saturation':
      return colors === 1 ? [] : [{ do: 'saturate', amount: step.amount }, UNIT];
    case 'hue': {
      if (colors === 1) return [];
      const turn = (step.degrees * Math.PI) / 180;
      return [
        ...[{ do: 'to-light' } as const, { do: 'to-oklab' } as const],
        ...[{ do: 'turn-hue', cos: Math.cos(turn), sin: Math.sin(turn) } as const, { do: 'from-oklab' } as const],
        ...[UNIT, { do: 'to-screen' } as const],
      ];
    }
    case 'invert':
      return [{ do: 'scale-and-shift', by: -1, shift: 1 }];
    case 'clamp':
      return [{ do: 'clamp', low: step.low, high: step.high }];
    case 'remap':
      return [{ do: 'scale-and-shift', by: step.high - step.low, shift: step.low }];
    case 'blur':
    case 'sharpen':
    case 'denoise':
    case 'high-pass':
    case 'equalise':
    case 'ramp':
      return null;
  }
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
  brightness: (image, { amount }) => byValue(image, (value) => Math.max(0, Math.min(1, value + amount))),
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
  ramp: (image, { stops }) => ramped(image, stops),
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

/** Steps of a ramp: finer than eight bits of tone can tell. */
const RAMP_STEPS = 1024;

/** Tones in the colours of a ramp, or of one channel in their tones. */
function ramped(image: Image, stops: readonly ColorStop[]): Image {
  const { channels, data } = image;
  const colors = channels < 3 ? 1 : 3;
  const table = new Float32Array((RAMP_STEPS + 1) * 3);
  const paint = colorRamp(stops);
  for (let i = 0; i <= RAMP_STEPS; i++) paint(i / RAMP_STEPS, table, i * 3);
  for (let i = 0; i < table.length; i++) table[i] = quickLinearToSrgb(Math.max(0, table[i]!));
  const result = data.slice();
  for (let at = 0; at < data.length; at += channels) {
    const tone = colors === 1 ? data[at]! : toneOf(data[at]!, data[at + 1]!, data[at + 2]!);
    const from = Math.round(Math.max(0, Math.min(1, tone)) * RAMP_STEPS) * 3;
    if (colors === 1) result[at] = toneOf(table[from]!, table[from + 1]!, table[from + 2]!);
    else for (let c = 0; c < 3; c++) result[at + c] = table[from + c]!;
  }
  return { ...image, data: result };
}

/** Luma of Rec. 709. */
const toneOf = (r: number, g: number, b: number): number => 0.2126 * r + 0.7152 * g + 0.0722 * b;

const EQUALISE_BINS = 4096;

/** Spreads values so that all are about as frequent; colours by their tone, keeping their hue. */
function equalised(image: Image, amount: number): Image {
  const { channels, data } = image;
  const colors = channels < 3 ? 1 : 3;
  const texels = data.length / channels;
  const tones = new Float32Array(texels);
  for (let i = 0, at = 0; i < texels; i++, at += channels) {
    tones[i] = colors === 1 ? data[at]! : toneOf(data[at]!, data[at + 1]!, data[at + 2]!);
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
