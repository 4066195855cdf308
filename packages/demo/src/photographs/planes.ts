import { resample } from '@zographos/core/image';
import { DEFAULT_LAYER, fieldImage, type FieldLayer } from '@zographos/core/pattern';
import { randomNumbers } from '@zographos/core/math';
import type { Size } from '@zographos/core/math';

/**
 * A plane of values of one layer, that does not repeat.
 * @param part what is smooth is made smaller by this and enlarged, for speed
 */
export function planeOf(size: Size, layer: Partial<FieldLayer>, part = 1): Float32Array {
  const small = { width: Math.round(size.width * part), height: Math.round(size.height * part) };
  const image = fieldImage({ layers: [{ ...DEFAULT_LAYER, ...layer }], wrap: 'none', samples: 1 }, small);
  return part === 1 ? image.data : resample(image, size, layer.measure === 'flat' ? 'nearest' : 'cubic').data;
}

/** Noise drawn out along the height of the picture, as the grain of wood is. @param times how much longer it is than wide */
export function drawnOut(size: Size, layer: Partial<FieldLayer>, times: number): Float32Array {
  const short = { width: size.width, height: Math.max(2, Math.round(size.height / times)) };
  const image = fieldImage({ layers: [{ ...DEFAULT_LAYER, ...layer }], wrap: 'none', samples: 1 }, short);
  return resample(image, size, 'cubic').data;
}

/** The finest of all noises: one number for each texel, softened over its neighbours. Mean one half. */
export function grainOf({ width, height }: Size, seed: number): Float32Array {
  const random = randomNumbers(seed);
  const single = Float32Array.from({ length: width * height }, () => random());
  return single.map(
    (value, at) =>
      (value * 2 +
        (single[at - 1] ?? 0.5) +
        (single[at + 1] ?? 0.5) +
        (single[at - width] ?? 0.5) +
        (single[at + width] ?? 0.5)) /
      6,
  );
}

/** A colour between several, evenly spaced from 0 to 1; linear sRGB. */
export function between(colors: readonly (readonly [number, number, number])[], share: number, c: number): number {
  const place = Math.max(0, Math.min(1, share)) * (colors.length - 1);
  const first = Math.min(colors.length - 2, Math.floor(place));
  return colors[first]![c]! + (colors[first + 1]![c]! - colors[first]![c]!) * (place - first);
}
