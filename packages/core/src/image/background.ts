import { LUMINANCE } from '../color/luminance.ts';
import { srgbToLinear } from '../color/srgb.ts';
import { ZographosError } from '../errors.ts';
import { TexelState, type Image } from './image.ts';

/** Red, green and blue as they are written in a file, 0 to 1: of colours through the sRGB curve. */
export type Background = readonly [number, number, number];

/** What a map is given on its way out. */
export interface ExportOptions {
  /** A fourth channel that is 1 where the layout covers a texel, else 0. */
  alpha?: boolean;
  /** What stands beyond the padding; left out, what the map has there. */
  background?: Background | null;
}

/** A map as it leaves: with its background and its coverage as alpha, if that is asked for. */
export function exported(image: Image, states: Uint8Array, { alpha = false, background = null }: ExportOptions): Image {
  if (!alpha && !background) return image;
  const wide = alpha ? withCoverage(image, states) : { ...image, data: image.data.slice() };
  if (background) fillBackground(wide, states, background);
  return wide;
}

function withCoverage(image: Image, states: Uint8Array): Image {
  const { width, height, channels } = image;
  const data = new Float32Array(width * height * 4);
  for (let i = 0; i < width * height; i++) {
    for (let c = 0; c < 3; c++) data[i * 4 + c] = image.data[i * channels + (channels < 3 ? 0 : c)]!;
    data[i * 4 + 3] = states[i]! >= TexelState.covered ? 1 : 0;
  }
  return { ...image, channels: 4, data };
}

/**
 * Fills what lies beyond the padding, in place; alpha stays. Colours become what they are in a file, numbers stand
 * between the ends of the map's range, and grey maps take the luminance of what is given (Rec. 709).
 */
export function fillBackground(image: Image, states: Uint8Array, background: Background): void {
  const { channels, data, colorSpace, range: [low, high] = [0, 1] } = image;
  const colors = channels < 3 ? 1 : 3;
  const shown = colors === 3 ? background : [background.reduce((sum, value, c) => sum + value * LUMINANCE[c]!, 0)];
  const values = shown.map((value) => (colorSpace === 'srgb' ? srgbToLinear(value) : low + value * (high - low)));
  for (let i = 0; i < states.length; i++) {
    if (states[i] !== TexelState.background) continue;
    for (let c = 0; c < colors; c++) data[i * channels + c] = values[c]!;
  }
}

/**
 * A background colour as it is written: `#rrggbb`, `black`, `white`, or `neutral` for none.
 * @throws input/bad-settings for anything else
 */
export function parseBackground(text: string): [number, number, number] | null {
  if (text === 'neutral') return null;
  if (text === 'black') return [0, 0, 0];
  if (text === 'white') return [1, 1, 1];
  const match = /^#([0-9a-f]{2})([0-9a-f]{2})([0-9a-f]{2})$/i.exec(text);
  if (!match) {
    throw new ZographosError(
      'input/bad-settings',
      `“${text}” is not a colour. Write #8080ff, black, white or neutral.`,
    );
  }
  return [1, 2, 3].map((i) => parseInt(match[i]!, 16) / 255) as [number, number, number];
}
