import { adjust } from '@zographos/core/adjust';
import { cutOutAtlas, findCutOuts, fitToPlace, placeCutOuts, type Placement } from '@zographos/core/atlas';
import { meaningOf, pickChannel, tone, type ChannelPick, type Image } from '@zographos/core/image';
import { requirePicture, type FlatMap } from '../flat/flatMap.ts';
import type { CutoutsSettings } from './settings.ts';

const ALPHA: ChannelPick = { channel: 3 };
const COLORS: ChannelPick = { channel: 'rgb' };

/** Cut-outs in their atlas. */
export interface Cutouts {
  maps: FlatMap[];
  /** Where each lies, in texels from the lower left. */
  places: Placement[];
  /** By how much they were reduced: 1 for not at all. */
  scale: number;
}

/**
 * Cuts out what stands alone in the images of a ticket, and packs it into an atlas: all maps alike, with their opacity.
 * @param images of the ticket, as light
 * @throws input/bad-settings where nothing stands alone; limit/packing
 */
export function makeCutouts(settings: CutoutsSettings, images: readonly Image[]): Cutouts {
  const { pictures, threshold, least, gutter, size } = settings;
  const opacity = maskOf(settings, images);
  const found = findCutOuts(opacity, threshold, least * opacity.width * opacity.height);
  const { places, scale } = placeCutOuts(found.cutOuts, size, gutter);
  const maps = pictures.flatMap(({ kind }, i) => {
    if (kind === 'opacity') return [];
    const picked = pickChannel(requirePicture(images, i), COLORS);
    const image = fitToPlace(kind, picked, opacity);
    return [{ kind, image: { ...image, data: image.data.slice() } }];
  });
  const atlas = cutOutAtlas(maps, opacity, found, places, size, gutter);
  const made: FlatMap[] = [
    ...maps.map(({ kind }, i): FlatMap => ({ kind, image: atlas.maps[i]! })),
    { kind: 'opacity', image: atlas.opacity },
  ];
  return {
    maps: made.map(({ kind, image }) => ({
      kind,
      image: { ...adjust(image, settings.adjust[kind] ?? [], 'clamp'), ...meaningOf(image) },
    })),
    places,
    scale,
  };
}

/** One channel, 0 to 1, of which the first image says the size. */
function maskOf({ pictures, mask }: CutoutsSettings, images: readonly Image[]): Image {
  const opacity = pictures.findIndex(({ kind }) => kind === 'opacity');
  const { image, pick } = mask ?? { image: Math.max(0, opacity), pick: opacity < 0 ? ALPHA : null };
  return tone(pick ? plain(pickChannel(requirePicture(images, image), pick)) : requirePicture(images, image));
}

/** A channel is a number, whatever the colours beside it are. */
const plain = ({ width, height, channels, data }: Image): Image => ({ width, height, channels, data });
