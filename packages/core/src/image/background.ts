import { ZographosError } from '../errors.ts';
import { TexelState, type Image } from './image.ts';

/** What a map is given on its way out. */
export interface ExportOptions {
  /** A fourth channel that is 1 where the layout covers a texel, else 0. */
  alpha?: boolean;
  /** What stands beyond the padding, as values between the ends of the map's range; left out, the neutral value. */
  background?: readonly [number, number, number] | null;
}

/** A map as it leaves: with its background and its coverage as alpha, if that is asked for. */
export function exported(image: Image, states: Uint8Array, { alpha = false, background = null }: ExportOptions): Image {
  if (!alpha && !background) return image;
  const { width, height, channels, range = [0, 1] } = image;
  const wide = alpha ? 4 : channels;
  const data = alpha ? new Float32Array(width * height * 4) : image.data.slice();
  const back = background?.map((value) => range[0] + value * (range[1] - range[0]));
  for (let i = 0; i < width * height; i++) {
    if (alpha) {
      for (let c = 0; c < 3; c++) data[i * 4 + c] = image.data[i * channels + (channels < 3 ? 0 : c)]!;
      data[i * 4 + 3] = states[i]! >= TexelState.covered ? 1 : 0;
    }
    if (back && states[i] === TexelState.background) {
      for (let c = 0; c < Math.min(3, wide); c++) data[i * wide + c] = back[c]!;
    }
  }
  return { ...image, channels: wide, data };
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
