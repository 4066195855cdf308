import { TexelState, quantised } from '@zographos/core/image';
import { screenBytes, type ScreenView } from '@zographos/core/light';
import type { MapRevision } from '@zographos/contracts';
import type { Tile } from './tileStore.ts';

export type Channel = 'all' | 'R' | 'G' | 'B';

/** A tile as it is put on screen, in its map's range: all channels, or one of them in grey. */
export function tilePicture(tile: Tile, revision: MapRevision, channel: Channel): OffscreenCanvas {
  const { width, height } = tile;
  const { channels, range, colorSpace } = revision;
  const data = tile.samples as Float32Array;
  const samples = quantised({ width, height, channels, data, range, colorSpace }, 8);
  const pixels = new ImageData(width, height);
  const shown = channel === 'all' ? null : Math.min(channels - 1, 'RGB'.indexOf(channel));
  for (let i = 0; i < width * height; i++) {
    for (let c = 0; c < 3; c++) {
      pixels.data[i * 4 + c] = samples[i * channels + (shown ?? Math.min(c, channels - 1))]!;
    }
    pixels.data[i * 4 + 3] = 255;
  }
  return canvasOf(pixels);
}

/** A tile of light as a screen shows it. */
export function lightPicture(
  { width, height, samples }: Tile,
  { channels }: MapRevision,
  channel: Channel,
  screen: ScreenView,
): OffscreenCanvas {
  const shown = channel === 'all' ? null : 'RGB'.indexOf(channel);
  return canvasOf(
    new ImageData(screenBytes({ data: samples as Float32Array, channels }, screen, shown), width, height),
  );
}

/** Missed texels in minium, with a dark texel in each corner of the pattern so that it reads without colour. */
export function missedPicture(tile: Tile): OffscreenCanvas {
  const { width, height, samples } = tile;
  const pixels = new ImageData(width, height);
  for (let i = 0; i < width * height; i++) {
    if (samples[i] !== TexelState.missed) continue;
    const dark = (i % width) % 2 === 0 && Math.floor(i / width) % 2 === 0;
    pixels.data.set(dark ? [20, 20, 20, 255] : [212, 66, 32, 255], i * 4);
  }
  return canvasOf(pixels);
}

function canvasOf(pixels: ImageData): OffscreenCanvas {
  const canvas = new OffscreenCanvas(pixels.width, pixels.height);
  canvas.getContext('2d')!.putImageData(pixels, 0, 0);
  return canvas;
}
