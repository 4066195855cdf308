import type { Image } from '../image/image.ts';
import { toUnit } from '../image/kindMeaning.ts';
import { smoothStep } from '../image/planes.ts';

/** A spot that is painted out with texture from elsewhere. Places and radius are shares of the tile, y downwards. */
export interface Spot {
  to: readonly [x: number, y: number];
  from: readonly [x: number, y: number];
  /** Of the tile's shorter side. */
  radius: number;
  /** 0 for a hard edge, 1 to blend from the middle on. */
  softness: number;
}

export interface TouchUpOptions {
  /** Texels are directions, and made of unit length again. */
  unit?: boolean;
  /** Colours stand for things and are never mixed. */
  whole?: boolean;
}

/**
 * Paints spots out, one after the other, over the borders of the tile as if it were endless. Each takes its texture from
 * the tile as it was before that spot.
 */
export function touchUp(
  image: Image,
  spots: readonly Spot[],
  { unit = false, whole = false }: TouchUpOptions = {},
): Image {
  if (spots.length === 0) return image;
  const { width, height, channels } = image;
  const data = image.data.slice();
  const within = (value: number, size: number): number => ((value % size) + size) % size;
  for (const { to, from, radius, softness } of spots) {
    const reach = radius * Math.min(width, height);
    const [cx, cy] = [Math.floor(to[0] * width), Math.floor(to[1] * height)];
    const [dx, dy] = [Math.round((from[0] - to[0]) * width), Math.round((from[1] - to[1]) * height)];
    const [across, up] = [Math.min(Math.ceil(reach), width >> 1), Math.min(Math.ceil(reach), height >> 1)];
    const each = (visit: (x: number, y: number, weight: number) => void): void => {
      for (let y = -up; y <= up; y++) {
        for (let x = -across; x <= across; x++) {
          const share = 1 - smoothStep(reach * (1 - softness), reach, Math.hypot(x, y));
          if (share > 0) visit(x, y, whole ? (share >= 0.5 ? 1 : 0) : share);
        }
      }
    };
    const texel = (x: number, y: number): number => (within(y, height) * width + within(x, width)) * channels;
    // Taken before anything is painted: a spot may lie on where its texture comes from.
    const texture: number[] = [];
    each((x, y) => {
      const at = texel(cx + x + dx, cy + y + dy);
      for (let c = 0; c < channels; c++) texture.push(data[at + c]!);
    });
    let taken = 0;
    each((x, y, weight) => {
      const at = texel(cx + x, cy + y);
      for (let c = 0; c < channels; c++) data[at + c] = data[at + c]! * (1 - weight) + texture[taken++]! * weight;
      if (unit) toUnit(data, at);
    });
  }
  return { ...image, data };
}
