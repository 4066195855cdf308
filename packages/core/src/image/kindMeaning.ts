import type { MapKind } from './image.ts';

/** Whether texels of a map are directions, which stay of unit length. */
export const isDirection = (kind: MapKind): boolean => kind === 'normal' || kind === 'bent' || kind === 'facing';

/** Whether colours of a map stand for things, so that a mixture of two would stand for a third or for none. */
export const standsForThings = (kind: MapKind): boolean => kind === 'id' || kind === 'mask';

/**
 * Makes a direction of unit length again, in place.
 * @param data stored values, 0.5 for none along an axis @param at of its first channel
 */
export function toUnit(data: Float32Array, at: number): void {
  const x = data[at]! * 2 - 1;
  const y = data[at + 1]! * 2 - 1;
  const z = data[at + 2]! * 2 - 1;
  const half = 0.5 / (Math.sqrt(x * x + y * y + z * z) || 1);
  data[at] = x * half + 0.5;
  data[at + 1] = y * half + 0.5;
  data[at + 2] = z * half + 0.5;
}
