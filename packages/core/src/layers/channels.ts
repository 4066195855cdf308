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
  'maskred',
  'maskgreen',
  'maskblue',
  'maskalpha',
] as const satisfies readonly MapKind[];
export type LayerChannel = (typeof LAYER_CHANNELS)[number];

/** Masks of the artist's own: where layers lie that write them. They are never laid down by what layers are made of. */
export const isOwnMask = (channel: LayerChannel): boolean => channel.startsWith('mask');

/** Channels whose values blend; heights and normals are laid on in ways of their own. */
export const BLENDED_CHANNELS = [
  ...(['basecolor', 'roughness', 'metallic', 'opacity', 'emission'] as const),
  ...(['maskred', 'maskgreen', 'maskblue', 'maskalpha'] as const),
] as const satisfies readonly LayerChannel[];

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
  maskred: [0],
  maskgreen: [0],
  maskblue: [0],
  maskalpha: [0],
};
