import { CHANNELS, type Reach } from '@zographos/core/bake';
import type { Size } from '@zographos/core/math';
import { isDirection, TexelState, type BakedKind, type Image, type ValueRange } from '@zographos/core/image';
import type { Bounds } from '@zographos/core/mesh';
import { sharedFloat32 } from '@zographos/core/shared-arrays';
import type { BakeOperationSettings } from '../settings.ts';

export interface BakedImage {
  kind: BakedKind;
  image: Image;
}

/** The images of a ticket's maps before anything is baked: each filled with its kind's neutral value. */
export function emptyImages(size: Size, settings: BakeOperationSettings, bounds: Bounds, reach: Reach): BakedImage[] {
  return settings.maps.map((kind) => {
    const range = expectedRange(kind, bounds, reach, settings);
    return { kind, image: { ...emptyImage(kind, size, settings), ...(range ? { range } : {}) } };
  });
}

/** A map's image filled with its neutral value. */
export function emptyImage(kind: BakedKind, size: Size, settings: BakeOperationSettings): Image {
  const channels = CHANNELS[kind];
  const data = sharedFloat32(size.width * size.height * channels).fill(neutral(kind));
  // Empty room in tangent space is the flat normal, which points along z.
  if ((kind === 'normal' || kind === 'bent') && settings.normal.space === 'tangent') {
    const up = settings.normal.axes.indexOf('z');
    for (let i = up; i < data.length; i += 3) data[i] = 1;
  }
  const image: Image = { ...size, channels, data };
  if (kind === 'id' || kind === 'basecolor' || kind === 'emission') image.colorSpace = 'srgb';
  return image;
}

function neutral(kind: BakedKind): number {
  if (isDirection(kind) || kind === 'roughness') return 0.5;
  if (kind === 'ao' || kind === 'opacity') return 1;
  return kind === 'basecolor' ? 0.2 : 0;
}

/** How a map is shown while it fills; its final range is measured from what came out. */
function expectedRange(
  kind: BakedKind,
  { min, max }: Bounds,
  reach: Reach,
  { gradient: [gx, gy, gz] }: BakeOperationSettings,
): ValueRange | null {
  const extent = Math.max(...max.map((high, k) => high - min[k]!));
  if (kind === 'height') return [-reach.in, reach.out];
  if (kind === 'thickness') return [0, extent];
  if (kind === 'curvature') return [-20 / extent, 20 / extent];
  if (kind === 'position') return [Math.min(...min), Math.max(...max)];
  if (kind === 'gradient') {
    const length = Math.hypot(gx, gy, gz);
    const ends = [0, 1, 2].map((k) => [min[k]!, max[k]!].map((end) => (end * [gx, gy, gz][k]!) / length));
    return [ends.reduce((sum, end) => sum + Math.min(...end), 0), ends.reduce((sum, end) => sum + Math.max(...end), 0)];
  }
  return null;
}

/**
 * The range in which a finished map becomes whole numbers, from its own values in all its tiles. Null: 0 to 1.
 */
export function measuredRange(
  kind: BakedKind,
  tiles: readonly { image: Image; states: Uint8Array }[],
  settings: BakeOperationSettings,
): ValueRange | null {
  switch (kind) {
    case 'height': {
      const { mid, span } = settings.height;
      if (span !== 'auto') return [-mid * span, (1 - mid) * span];
      const [low, high] = extremes(tiles);
      // Just as much as lets both the deepest and the highest place in.
      const needed = Math.max(mid < 1 ? high / (1 - mid) : 0, mid > 0 ? -low / mid : 0) || 1;
      return [-mid * needed, (1 - mid) * needed];
    }
    case 'curvature': {
      const most = Math.max(...tiles.map(({ image, states }) => usual(image, states))) || 1;
      const { show } = settings.curvature;
      return [show === 'convex' ? 0 : -most, show === 'concave' ? 0 : most];
    }
    case 'thickness':
      return [0, extremes(tiles)[1] || 1];
    case 'position':
    case 'gradient': {
      const [low, high] = extremes(tiles);
      return [low, high > low ? high : low + 1];
    }
    default:
      return null;
  }
}

function extremes(tiles: readonly { image: Image; states: Uint8Array }[]): [low: number, high: number] {
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
