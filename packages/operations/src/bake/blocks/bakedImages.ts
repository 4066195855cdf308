import type { Reach } from '@zographos/core/bake';
import type { Size } from '@zographos/core/math';
import { neutralOf } from '@zographos/core/atlas';
import {
  describeKind,
  isColor,
  isDirection,
  normalSpaceOf,
  TexelState,
  type BakedKind,
  type Image,
  type ValueRange,
} from '@zographos/core/image';
import type { Bounds } from '@zographos/core/mesh';
import { sharedFloat32 } from '@zographos/core/shared-arrays';
import type { BakePassSettings } from '../settings.ts';

export interface BakedImage {
  kind: BakedKind;
  image: Image;
}

/** The images of a ticket's maps before anything is baked: each filled with its kind's neutral value. */
export function emptyImages(size: Size, settings: BakePassSettings, bounds: Bounds, reach: Reach): BakedImage[] {
  return settings.maps.map((kind) => {
    const range = expectedRange(kind, bounds, reach, settings);
    return { kind, image: { ...emptyImage(kind, size, settings), ...(range ? { range } : {}) } };
  });
}

/** A map's image filled with its neutral value, and how it is meant as far as that is known before it is baked. */
export function emptyImage(kind: BakedKind, size: Size, settings: BakePassSettings): Image {
  const { channels, range } = describeKind(kind);
  const data = sharedFloat32(size.width * size.height * channels);
  const image: Image = { ...size, channels, data };
  if (isColor(kind)) image.colorSpace = 'srgb';
  if (isDirection(kind)) image.convention = { of: 'direction', ...normalSpaceOf(kind, settings.normal) };
  // What its black and white will be is not known yet, but that there will be some.
  const neutral = neutralOf(kind, { ...image, ...(range === 'unit' ? {} : { range: [0, 1] }) });
  for (let i = 0; i < data.length; i++) data[i] = neutral[i % channels]!;
  return image;
}

/** How a map is shown while it fills; its final range is measured from what came out. */
function expectedRange(
  kind: BakedKind,
  { min, max }: Bounds,
  reach: Reach,
  { gradient: [gx, gy, gz] }: BakePassSettings,
): ValueRange | null {
  const { range, channels } = describeKind(kind);
  const extent = Math.max(...max.map((high, k) => high - min[k]!));
  switch (range) {
    case 'unit':
      return null;
    case 'surface':
      return [-reach.in, reach.out];
    case 'from zero':
      return [0, extent];
    case 'symmetric':
      return [-20 / extent, 20 / extent];
    case 'extremes': {
      if (channels === 3) return [Math.min(...min), Math.max(...max)];
      const length = Math.hypot(gx, gy, gz);
      const ends = [0, 1, 2].map((k) => [min[k]!, max[k]!].map((end) => (end * [gx, gy, gz][k]!) / length));
      return [
        ends.reduce((sum, end) => sum + Math.min(...end), 0),
        ends.reduce((sum, end) => sum + Math.max(...end), 0),
      ];
    }
  }
}

/** A finished map of one kind in one tile. */
interface FinishedTile {
  image: Image;
  states: Uint8Array;
}

/**
 * Writes down how a finished map is meant: the range in which it becomes whole numbers, from its own values in all its
 * tiles, and the middle and span of heights.
 */
export function writeMeaning(kind: BakedKind, tiles: readonly FinishedTile[], settings: BakePassSettings): void {
  const range = measuredRange(kind, tiles, settings);
  if (!range) return;
  const [low, high] = range;
  for (const { image } of tiles) {
    image.range = range;
    if (describeKind(kind).range !== 'surface') continue;
    image.convention = { of: 'height', unit: 'mesh', mid: -low / (high - low), span: high - low };
  }
}

/** The range in which a finished map becomes whole numbers; null for 0 to 1. */
function measuredRange(
  kind: BakedKind,
  tiles: readonly FinishedTile[],
  { height: { mid, span }, curvature: { show } }: BakePassSettings,
): ValueRange | null {
  switch (describeKind(kind).range) {
    case 'unit':
      return null;
    case 'surface': {
      if (span !== 'auto') return [-mid * span, (1 - mid) * span];
      const [low, high] = extremes(tiles);
      // Just as much as lets both the deepest and the highest place in.
      const needed = Math.max(mid < 1 ? high / (1 - mid) : 0, mid > 0 ? -low / mid : 0) || 1;
      return [-mid * needed, (1 - mid) * needed];
    }
    case 'symmetric': {
      const most = Math.max(...tiles.map(({ image, states }) => usual(image, states))) || 1;
      return [show === 'convex' ? 0 : -most, show === 'concave' ? 0 : most];
    }
    case 'from zero':
      return [0, extremes(tiles)[1] || 1];
    case 'extremes': {
      const [low, high] = extremes(tiles);
      return [low, high > low ? high : low + 1];
    }
  }
}

function extremes(tiles: readonly FinishedTile[]): [low: number, high: number] {
  let low = Infinity;
  let high = -Infinity;
  for (const { image, states } of tiles) {
    const { data, channels } = image;
    for (let i = 0; i < data.length; i++) {
      if (states[Math.floor(i / channels)] !== TexelState.covered) continue;
      const value = data[i]!;
      if (value < low) low = value;
      if (value > high) high = value;
    }
  }
  return low <= high ? [low, high] : [0, 1];
}

/** The size that all but one in two hundred values stay below. */
function usual({ data }: Image, states: Uint8Array): number {
  const step = Math.max(1, Math.floor(data.length / 200_000));
  const sizes: number[] = [];
  for (let i = 0; i < data.length; i += step) {
    if (states[i] === TexelState.covered) sizes.push(Math.abs(data[i]!));
  }
  sizes.sort((a, b) => a - b);
  return sizes[Math.floor(sizes.length * 0.995)] ?? 0;
}
