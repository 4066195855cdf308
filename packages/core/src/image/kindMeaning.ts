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
  const [x, y, z] = [0, 1, 2].map((k) => data[at + k]! * 2 - 1) as [number, number, number];
  const length = Math.hypot(x, y, z) || 1;
  [x, y, z].forEach((value, k) => (data[at + k] = value / length / 2 + 0.5));
}
