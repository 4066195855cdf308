import { ZographosError } from '../errors.ts';
import { channelsOfAxes, directionsOf, GLTF_NORMAL } from '../image/convention.ts';
import type { Image } from '../image/image.ts';
import type { MapKind } from '../image/mapKinds.ts';
import { isDirection, isCategory } from '../image/kindMeaning.ts';
import { isSameSize } from '../math/size.ts';
import { bandOverlap } from './ends/blendBand.ts';
import { cutOverlap } from './ends/cutOverlap.ts';
import { mirrorTile } from './ends/mirrorTile.ts';
import { extentOf, layOver, type Axis, type Mix, type Overlap } from './ends/overlap.ts';
import { histogramPreservingMix } from './ends/preserveHistogram.ts';

export const END_METHODS = ['none', 'band', 'cut', 'preserve', 'mirror'] as const;
export type EndMethod = (typeof END_METHODS)[number];

/** How both ends of one axis are joined. */
export interface Ends {
  method: EndMethod;
  /** How much of the picture lies on its other end, as a share of its length: 0 to one half. */
  width: number;
  /** How much of that is mixed: all of it (1), or none (0: a hard edge). */
  softness: number;
  /** Of a band: below one half the end of the picture shows less. */
  balance: number;
}

export const DEFAULT_ENDS: Ends = { method: 'cut', width: 1 / 8, softness: 0.08, balance: 0.5 };

export interface MapOfSet {
  kind: MapKind;
  image: Image;
}

/** Texels of an axis that lie on its other end. */
export const overlapOf = ({ method, width }: Ends, along: number): number =>
  method === 'none' || method === 'mirror' ? 0 : Math.max(1, Math.round(width * along));

/** How long an axis must be so that `wanted` texels are left of it once its ends are joined. */
export function lengthBefore(ends: Ends, wanted: number): number {
  if (ends.method === 'none') return wanted;
  if (ends.method === 'mirror') return Math.max(1, Math.ceil(wanted / 2));
  let along = Math.max(2, Math.round(wanted / (1 - ends.width)));
  while (along - overlapOf(ends, along) < wanted) along++;
  return along;
}

/**
 * Makes all maps of a set repeat, by the same cut and the same weights, so that they stay on each other. Directions are
 * made of unit length again; colours that stand for things are never mixed.
 * @param guide the number of the map by which cuts are found
 * @returns the maps in their order; smaller by the overlap on each axis, or (mirrored) twice as large
 * @throws input/bad-settings for maps of several sizes, or ends that are too wide
 */
export function seamlessSet(maps: readonly MapOfSet[], guide: number, ends: Readonly<Record<Axis, Ends>>): Image[] {
  requireOneSize(maps, guide);
  let images = maps.map(({ image }) => image);
  for (const axis of ['across', 'up'] as const) {
    const { [axis]: own } = ends;
    if (own.method === 'none') continue;
    if (own.method === 'mirror') {
      images = images.map((image, i) => mirrorTile(image, axis, channelAlong(axis, maps[i]!.kind, image)));
      continue;
    }
    const overlap = planOf(images[guide]!, axis, own);
    images = images.map((image, i) => made(maps[i]!.kind, image, overlap, own.method));
  }
  return images;
}

/** @throws input/bad-settings for maps of several sizes */
export function requireOneSize(maps: readonly MapOfSet[], guide: number): void {
  const first = maps[guide]!.image;
  const other = maps.find(({ image }) => !isSameSize(image, first));
  if (!other) return;
  throw new ZographosError(
    'input/bad-settings',
    `The ${other.kind} map is ${other.image.width} × ${other.image.height} px, others are ${first.width} × ${first.height}. Give all maps of the set one size.`,
  );
}

function planOf(guide: Image, axis: Axis, ends: Ends): Overlap {
  const [along] = extentOf(guide, axis);
  const width = overlapOf(ends, along);
  const { softness, balance } = ends;
  return ends.method === 'cut'
    ? cutOverlap(guide, axis, width, softness * width)
    : bandOverlap(guide, { axis, width, softness, balance });
}

function made(kind: MapKind, image: Image, overlap: Overlap, method: EndMethod): Image {
  if (isCategory(kind)) return layOver(image, overlap, { mix: oneOrOther(image.channels) });
  if (isDirection(kind)) return layOver(image, overlap, { unit: true });
  return layOver(image, overlap, method === 'preserve' ? { mix: histogramPreservingMix(image) } : {});
}

const oneOrOther =
  (channels: number): Mix =>
  (from, start, end, weights, to, at) => {
    for (let i = 0, k = 0; i < weights.length; i++) {
      const row = weights[i]! > 0.5 ? end : start;
      for (let c = 0; c < channels; c++, k++) to[at + k] = from[row + k]!;
    }
  };

/** The channel that holds the direction along an axis of the image; null where directions do not follow the image. */
function channelAlong(axis: Axis, kind: MapKind, image: Image): number | null {
  if (!isDirection(kind)) return null;
  const { space, axes } = directionsOf(image) ?? GLTF_NORMAL;
  return space === 'tangent' ? channelsOfAxes(axes)[axis === 'across' ? 0 : 1]! : null;
}
