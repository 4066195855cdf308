import { neutralOf } from '@zographos/core/atlas';
import { linearToSrgb } from '@zographos/core/color';
import type { Size } from '@zographos/core/math';
import {
  describeKind,
  directionsOf,
  GLTF_NORMAL,
  inNormalSpace,
  isCategory,
  isDirection,
  packChannels,
  resample,
  type ChannelSource,
  type Image,
  type MapConvention,
  type MapKind,
} from '@zographos/core/image';
import { alphaOf, encodeImage, isFloatFormat } from '@zographos/formats/images';
import type { DeliveryProfile, PackedChannel } from './settings.ts';
import type { Manifest } from './manifest.ts';
import { isColourFile, mapsOf, type PlannedFile } from './planDelivery.ts';

/** The maps of one set and tile that a file needs, as they are held: colours as light. */
export type FileMaps = ReadonlyMap<MapKind, Image>;

type Entry = Manifest['files'][number];
type Wishes = Pick<DeliveryProfile, 'normalY'>;

/**
 * Makes one file of a delivery. Maps are converted from what they are written to mean to what the profile asks for; the
 * entry says how they are written in the file.
 * @returns its bytes, and what it holds, for the manifest
 */
export async function deliverFile(
  { file, width, height, path, tile }: PlannedFile,
  maps: FileMaps,
  profile: Wishes,
): Promise<{ bytes: Uint8Array; entry: Omit<Entry, 'set' | 'sha256' | 'made' | 'bytes'> }> {
  const size = { width, height };
  const isFloat = isFloatFormat(file.format);
  const isColour = isColourFile(file, (kind) => maps.get(kind)?.colorSpace);
  const ready = new Map([...maps].map(([kind, image]) => [kind, asWished(kind, image, size, profile)]));
  const image = 'map' in file ? ready.get(file.map)! : packedMaps(file, ready, size);
  const bytes = await encodeImage(image, file.format, 'map' in file ? {} : alphaOf(mapOfChannel(file.channels[3])));
  const conventions: Entry['conventions'] = {};
  for (const kind of mapsOf(file)) {
    const convention = ready.get(kind) && inFile(ready.get(kind)!, isFloat && 'map' in file);
    if (convention) conventions[kind] = convention;
  }
  return {
    bytes,
    entry: {
      path,
      tile,
      kind: 'map' in file ? 'map' : 'packed',
      format: file.format,
      ...size,
      colorSpace: isColour && !isFloat ? 'srgb' : 'linear',
      channels: channelsOf(file, image),
      range: isFloat ? [0, 1] : [image.range?.[0] ?? 0, image.range?.[1] ?? 1],
      conventions,
    },
  };
}

const mapOfChannel = (source: PackedChannel | undefined): MapKind | undefined =>
  source && 'map' in source ? source.map : undefined;

/** How a map is written in a file: of heights as floats, the values themselves are not stretched over their range. */
function inFile({ convention, range: [low, high] = [0, 1] }: Image, isFloat: boolean): MapConvention | undefined {
  if (convention?.of !== 'height' || !isFloat) return convention;
  const scale = high - low || 1;
  return { ...convention, mid: low + convention.mid * scale, span: convention.span / scale };
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

/** A map at the size of a file, written as the profile asks: directions in x, y, z with green as wished. */
function asWished(kind: MapKind, image: Image, size: Size, { normalY }: Wishes): Image {
  const sized = resample(image, size, isCategory(kind) ? 'nearest' : 'mitchell', 'repeat');
  if (!isDirection(kind)) return sized;
  // Object space stays what it is: only a mesh could tell it in another, and Y says nothing there.
  const { space } = directionsOf(image) ?? GLTF_NORMAL;
  const y = space === 'tangent' ? normalY : 'up';
  return inNormalSpace(sized, { ...GLTF_NORMAL, space, y }, describeKind(kind).label);
}

/** Numbers are packed as they stand in a file: colours through their curve, ranges stretched to 0 … 1. */
function packedMaps(
  { channels }: Extract<PlannedFile['file'], { channels: unknown }>,
  maps: FileMaps,
  size: Size,
): Image {
  const stored = new Map<MapKind, Image>();
  const sources = channels.map((source): ChannelSource => {
    if ('constant' in source) return source;
    const { map: kind, channel, invert, levels } = source;
    const map = maps.get(kind);
    if (!map) {
      const neutral = neutralOf(kind, {})[channel]!;
      return { constant: invert ? 1 - neutral : neutral };
    }
    const image = stored.get(kind) ?? asStored(map);
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
