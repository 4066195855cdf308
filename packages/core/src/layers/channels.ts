import type { MapKind } from '../image/mapKinds.ts';

/** What layers write: kinds of maps that describe a finished material. */
export const LAYER_CHANNELS = [
  'basecolor',
  'roughness',
  'metallic',
  'height',
  'normal',
  'opacity',
  'emission',
] as const satisfies readonly MapKind[];
export type LayerChannel = (typeof LAYER_CHANNELS)[number];

/** Values of a texel: colours and directions have three. */
export const widthOf = (channel: LayerChannel): 1 | 3 =>
  channel === 'basecolor' || channel === 'normal' || channel === 'emission' ? 3 : 1;

export const isColorChannel = (channel: LayerChannel): boolean => channel === 'basecolor' || channel === 'emission';

/**
 * What a texel holds before any layer lies on it: colours are as they are mixed, heights in millimetres over the
 * surface, normals unit vectors in its tangent space.
 */
export const GROUND: Readonly<Record<LayerChannel, readonly number[]>> = {
  basecolor: [0.5, 0.5, 0.5],
  roughness: [0.5],
  metallic: [0],
  height: [0],
  normal: [0, 0, 1],
  opacity: [1],
  emission: [0, 0, 0],
};
