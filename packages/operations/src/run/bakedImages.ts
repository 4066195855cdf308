import {
  boundsOf,
  CHANNELS,
  sharedFloat32,
  TexelState,
  type BakedKind,
  type Bounds,
  type Image,
  type Mesh,
  type Reach,
  type ValueRange,
} from '@zographos/core';
import type { BakeOperationSettings } from '../bake/bakeOperation.ts';

export interface BakedImage {
  kind: BakedKind;
  image: Image;
}

/** The images of a ticket's maps before anything is baked: each filled with its kind's neutral value. */
export function emptyImages(settings: BakeOperationSettings, receiver: Mesh, reach: Reach): BakedImage[] {
  const { size, maps } = settings;
  const bounds = boundsOf(receiver.positions);
  return maps.map((kind) => {
    const channels = CHANNELS[kind];
    const data = sharedFloat32(size.width * size.height * channels).fill(neutral(kind));
    // Empty room in tangent space is the flat normal.
    if ((kind === 'normal' || kind === 'bent') && settings.normal.space === 'tangent') {
      for (let i = 2; i < data.length; i += 3) data[i] = 1;
    }
    const range = expectedRange(kind, bounds, reach);
    const image: Image = { ...size, channels, data, ...(range ? { range } : {}) };
    if (kind === 'id' || kind === 'basecolor') image.colorSpace = 'srgb';
    return { kind, image };
  });
}

function neutral(kind: BakedKind): number {
  if (kind === 'normal' || kind === 'bent') return 0.5;
  if (kind === 'ao') return 1;
  return kind === 'basecolor' ? 0.2 : 0;
}

/** How a map is shown while it fills; its final range is measured from what came out. */
function expectedRange(kind: BakedKind, { min, max }: Bounds, reach: Reach): ValueRange | null {
  const extent = Math.max(...max.map((high, k) => high - min[k]!));
  if (kind === 'height') return [-reach.in, reach.out];
  if (kind === 'thickness') return [0, extent];
  if (kind === 'curvature') return [-20 / extent, 20 / extent];
  if (kind === 'position') return [Math.min(...min), Math.max(...max)];
  return null;
}

/** The range in which a finished map becomes whole numbers, from its own values. Null: 0 to 1. */
export function measuredRange(
  { kind, image }: BakedImage,
  states: Uint8Array,
  settings: BakeOperationSettings,
): ValueRange | null {
  switch (kind) {
    case 'height': {
      const { mid, span } = settings.height;
      if (span !== 'auto') return [-mid * span, (1 - mid) * span];
      const [low, high] = extremes(image, states);
      // Just as much as lets both the deepest and the highest place in.
      const needed = Math.max(mid < 1 ? high / (1 - mid) : 0, mid > 0 ? -low / mid : 0) || 1;
      return [-mid * needed, (1 - mid) * needed];
    }
    case 'curvature': {
      const most = usual(image, states) || 1;
      const { show } = settings.curvature;
      return [show === 'convex' ? 0 : -most, show === 'concave' ? 0 : most];
    }
    case 'thickness':
      return [0, extremes(image, states)[1] || 1];
    case 'position': {
      const [low, high] = extremes(image, states);
      return [low, high > low ? high : low + 1];
    }
    default:
      return null;
  }
}

function extremes({ data, channels }: Image, states: Uint8Array): [low: number, high: number] {
  let low = Infinity;
  let high = -Infinity;
  for (let i = 0; i < data.length; i++) {
    if (states[Math.floor(i / channels)] !== TexelState.covered) continue;
    const value = data[i]!;
    if (value < low) low = value;
    if (value > high) high = value;
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
