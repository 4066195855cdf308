import { neutralTexel } from '@zographos/core/atlas';
import type { Size } from '@zographos/core/math';
import { linearToSrgb } from '@zographos/core/color';
import {
  packChannels,
  resample,
  standsForThings,
  type ChannelSource,
  type Image,
  type MapKind,
} from '@zographos/core/image';
import { encodeImage, isFloatFormat } from '@zographos/formats/images';
import type { DeliveryProfile } from './settings.ts';
import type { Manifest } from './manifest.ts';
import { isColourFile, type PlannedFile } from './planDelivery.ts';

/** The maps of one set and tile that a file needs, as they are held: colours as light. */
export type FileMaps = ReadonlyMap<MapKind, Image>;

type Entry = Manifest['files'][number];

/** What a file of a delivery holds, for the manifest, and its bytes. */
export async function deliverFile(
  { file, width, height, path, tile }: PlannedFile,
  maps: FileMaps,
  profile: Pick<DeliveryProfile, 'normalY'>,
): Promise<{ bytes: Uint8Array; entry: Omit<Entry, 'set' | 'sha256' | 'made' | 'bytes'> }> {
  const size = { width, height };
  const isColour = isColourFile(file, (kind) => maps.get(kind)?.colorSpace);
  const image =
    'map' in file ? wholeMap(file.map, maps.get(file.map)!, size, profile) : packedMaps(file, maps, size, profile);
  const bytes = await encodeImage(image, file.format);
  const holdsNormals =
    'map' in file ? file.map === 'normal' : file.channels.some((source) => 'map' in source && source.map === 'normal');
  return {
    bytes,
    entry: {
      path,
      tile,
      kind: 'map' in file ? 'map' : 'packed',
      format: file.format,
      ...size,
      colorSpace: isColour && !isFloatFormat(file.format) ? 'srgb' : 'linear',
      channels: channelsOf(file, image),
      range: isFloatFormat(file.format) ? [0, 1] : [image.range?.[0] ?? 0, image.range?.[1] ?? 1],
      normalY: holdsNormals ? profile.normalY : null,
    },
  };
}

function channelsOf(file: PlannedFile['file'], image: Image): Entry['channels'] {
  if ('map' in file) {
    return Array.from({ length: image.channels }, (_, channel) => ({
      ...{ map: file.map, channel, inverted: false, constant: null },
    }));
  }
  return file.channels.map((source) =>
    'constant' in source
      ? { map: null, channel: 0, inverted: false, constant: source.constant }
      : { map: source.map, channel: source.channel, inverted: source.invert, constant: null },
  );
}

function wholeMap(kind: MapKind, image: Image, size: Size, { normalY }: Pick<DeliveryProfile, 'normalY'>): Image {
  const sized = resample(image, size, standsForThings(kind) ? 'nearest' : 'mitchell', 'repeat');
  return kind === 'normal' && normalY === 'down' ? greenTurned(sized) : sized;
}

/** Maps are held with Y up. */
function greenTurned(image: Image): Image {
  const data = image.data.slice();
  for (let at = 1; at < data.length; at += image.channels) data[at] = 1 - data[at]!;
  return { ...image, data };
}

/** Numbers are packed as they stand in a file: colours through their curve, ranges stretched to 0 … 1. */
function packedMaps(
  { channels }: Extract<PlannedFile['file'], { channels: unknown }>,
  maps: FileMaps,
  size: Size,
  profile: Pick<DeliveryProfile, 'normalY'>,
): Image {
  const stored = new Map<MapKind, Image>();
  const sources = channels.map((source): ChannelSource => {
    if ('constant' in source) return source;
    const { map: kind, channel, invert, levels } = source;
    const map = maps.get(kind);
    if (!map) {
      const neutral = neutralTexel(kind)[channel]!;
      return { constant: invert ? 1 - neutral : neutral };
    }
    const image = stored.get(kind) ?? asStored(wholeMap(kind, map, size, profile));
    stored.set(kind, image);
    return { image, channel, invert, levels };
  });
  return packChannels(sources, size);
}

function asStored(image: Image): Image {
  const { channels, colorSpace, range: [low, high] = [0, 1] } = image;
  const span = high - low || 1;
  const colors = channels < 3 ? 1 : 3;
  const data = image.data.map((value, i) => {
    const shown = Math.max(0, Math.min(1, (value - low) / span));
    return colorSpace === 'srgb' && i % channels < colors ? linearToSrgb(shown) : shown;
  });
  return { width: image.width, height: image.height, channels, data };
}
