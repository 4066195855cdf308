import { ZographosError } from '../errors.ts';
import { channelFor, OPAQUE, type Image } from './image.ts';
import { describeKind } from './kindMeaning.ts';
import type { MapKind } from './mapKinds.ts';

/** One channel of a picture, as if the picture were grey; or its colours without what lies in the alpha. */
export interface ChannelPick {
  /** 0 to 3 for red, green, blue and alpha; grey stands for all colours, and a missing alpha is 1. */
  channel: number | 'rgb';
  /** 1 − value: smoothness is taken for roughness. */
  invert?: boolean | undefined;
}

/** What one channel of a file holds: a channel of a map, perhaps inverted. */
export interface PackedContent {
  map: MapKind;
  /** Among the channels of the map: 0 to 2 for red, green and blue, 0 of a grey one. */
  channel: number;
  invert: boolean;
}

/** What each channel of a file holds, from red to alpha; null where that is nothing, or not known. */
export type ImagePacking = readonly (PackedContent | null)[];

/** A channel of a file, and whether it is turned round. */
type StoredChannel = { channel: number; invert: boolean };

/** The names of channels, in their order. */
export const CHANNEL_NAMES = ['Red', 'Green', 'Blue', 'Alpha'] as const;

/** The kinds of maps that lie in a packed file, each once. */
export const kindsOfPacking = (packing: ImagePacking): MapKind[] => [
  ...new Set(packing.flatMap((content) => (content ? [content.map] : []))),
];

/**
 * Which channels of a packed file are a map, in the order of the map's own channels.
 * @returns null unless all of its channels are there
 * @example channelsOfMap(ORM, 'roughness') // [{ channel: 1, invert: false }]
 */
export function channelsOfMap(packing: ImagePacking, kind: MapKind): StoredChannel[] | null {
  const { channels } = describeKind(kind);
  const picks: StoredChannel[] = [];
  for (let own = 0; own < channels; own++) {
    const channel = packing.findIndex((content) => content?.map === kind && content.channel === own);
    if (channel < 0) return null;
    picks.push({ channel, invert: packing[channel]!.invert });
  }
  return picks;
}

/**
 * What is picked of a packed file for a map: one channel, or the colours; those lie in red, green and blue.
 * @returns null where the file does not hold it
 */
export function pickOfMap(packing: ImagePacking, kind: MapKind): ChannelPick | null {
  const picks = channelsOfMap(packing, kind);
  if (picks?.length === 1) return picks[0]!;
  return picks?.every(({ channel }, c) => channel === c) ? { channel: 'rgb' } : null;
}

/** The map that the colours of a packed file are, if they are one. @example wideKindOf(ORM) // null */
export const wideKindOf = (packing: ImagePacking): MapKind | null =>
  kindsOfPacking(packing).find((kind) => describeKind(kind).channels === 3) ?? null;

/**
 * What is picked of a picture, with the same meaning; the picture itself where nothing is picked.
 * @example pickChannel(orm, { channel: 1 }).channels // 1
 */
export function pickChannel(image: Image, pick: ChannelPick | null | undefined): Image {
  if (!pick) return image;
  const { width, height, channels, data } = image;
  if (pick.channel === 'rgb') return withoutAlpha(image);
  const grey = new Float32Array(width * height);
  const from = channelFor(channels, pick.channel);
  for (let i = 0; i < grey.length; i++) {
    const value = from === OPAQUE ? 1 : data[i * channels + from]!;
    grey[i] = pick.invert ? 1 - value : value;
  }
  return { ...image, channels: 1, data: grey };
}

function withoutAlpha(image: Image): Image {
  const { width, height, channels, data } = image;
  if (channels % 2 === 1) return image;
  const colors = new Float32Array(width * height * (channels - 1));
  for (let texel = 0, to = 0; texel < width * height; texel++) {
    for (let c = 0; c < channels - 1; c++) colors[to++] = data[texel * channels + c]!;
  }
  return { ...image, channels: channels - 1, data: colors };
}

/**
 * The map of a kind that lies in a packed picture, its numbers as they are stored.
 * @throws input/bad-settings when the file does not hold all of its channels
 */
export function unpackMap(image: Image, packing: ImagePacking, kind: MapKind): Image {
  const picks = channelsOfMap(packing, kind);
  if (!picks) {
    throw new ZographosError(
      'input/bad-settings',
      `Not all channels of the ${describeKind(kind).phrase} map are in that file. Say in Intake what each of its channels holds.`,
    );
  }
  const planes = picks.map((pick) => pickChannel(image, pick).data);
  if (planes.length === 1) return { ...image, channels: 1, data: planes[0]! };
  const data = new Float32Array(image.width * image.height * planes.length);
  planes.forEach((plane, c) => {
    for (let i = 0; i < plane.length; i++) data[i * planes.length + c] = plane[i]!;
  });
  return { ...image, channels: planes.length, data };
}
