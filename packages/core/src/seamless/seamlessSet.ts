import { ZographosError } from '../errors.ts';
import type { Image, MapKind } from '../image/image.ts';
import { isDirection, standsForThings } from '../image/kindMeaning.ts';
import { bandOverlap, DEFAULT_BAND } from './blendBand.ts';
import { cutOverlap } from './cutPath.ts';
import { mirrorTile } from './mirrorTile.ts';
import { layOver, type Axis, type Mix, type Overlap } from './overlap.ts';
import { histogramPreservingMix } from './preserveHistogram.ts';

export const SEAMLESS_METHODS = ['band', 'cut', 'preserve', 'mirror'] as const;
export type SeamlessMethod = (typeof SEAMLESS_METHODS)[number];

export interface SeamlessSettings {
  method: SeamlessMethod;
  axes: readonly Axis[];
  /** Texels of both ends that are laid over each other. */
  width: number;
  /** Of a band: how much of it blends, and which end shows more; of a cut: texels over which it is soft. */
  softness: number;
  balance: number;
  cutSoftness: number;
}

export const DEFAULT_SEAMLESS: Omit<SeamlessSettings, 'width'> = {
  method: 'cut',
  axes: ['across', 'up'],
  ...DEFAULT_BAND,
  cutSoftness: 2,
};

interface MapOfSet {
  kind: MapKind;
  image: Image;
}

/**
 * Makes all maps of a set repeat, by the same cut and the same weights, so that they stay on each other. Directions are
 * made of unit length again; colours that stand for things are never mixed.
 * @param guide the number of the map by which cuts are found
 * @returns the maps in their order; smaller by the overlap on each axis, or (mirrored) twice as large
 * @throws input/bad-settings for maps of several sizes, or ends that are too wide
 */
export function seamlessSet(maps: readonly MapOfSet[], guide: number, settings: SeamlessSettings): Image[] {
  const { width, height } = maps[guide]!.image;
  const other = maps.find(({ image }) => image.width !== width || image.height !== height);
  if (other) {
    throw new ZographosError(
      'input/bad-settings',
      `The ${other.kind} map is ${other.image.width} × ${other.image.height} px, others are ${width} × ${height}. Give all maps of the set one size.`,
    );
  }
  let images = maps.map(({ image }) => image);
  for (const axis of settings.axes) {
    if (settings.method === 'mirror') {
      images = images.map((image, i) => mirrorTile(image, axis, isTangent(maps[i]!.kind)));
      continue;
    }
    const overlap = overlapOf(images[guide]!, axis, settings);
    images = images.map((image, i) => made(maps[i]!.kind, image, overlap, settings.method));
  }
  return images;
}

function overlapOf(guide: Image, axis: Axis, settings: SeamlessSettings): Overlap {
  const { method, width, softness, balance, cutSoftness } = settings;
  return method === 'cut'
    ? cutOverlap(guide, axis, width, cutSoftness)
    : bandOverlap(guide, { axis, width, softness, balance });
}

function made(kind: MapKind, image: Image, overlap: Overlap, method: SeamlessMethod): Image {
  if (standsForThings(kind)) return layOver(image, overlap, { mix: oneOrOther });
  if (isDirection(kind)) return layOver(image, overlap, { unit: true });
  return layOver(image, overlap, method === 'preserve' ? { mix: histogramPreservingMix(image) } : {});
}

const oneOrOther: Mix = (start, end, weight) => (weight > 0.5 ? end : start);
const isTangent = (kind: MapKind): boolean => kind === 'normal' || kind === 'bent';
