import { adjust } from '@zographos/core/adjust';
import { meaningOf, type Border, type Image } from '@zographos/core/image';
import { TileMaker } from '@zographos/core/seamless';
import { requirePicture, type FlatMap, type FlatWatch } from '../flat/flatMap.ts';
import { throwIfCancelled } from '../runContext.ts';
import { guideOf, type SeamlessSettings } from './settings.ts';

/**
 * Makes tiles of the pictures of a ticket, however its other settings move.
 * @param pictures as light, in its order
 * @param sketches of the whole pictures, where these are reduced
 */
export const tileMakerOf = (
  settings: Pick<SeamlessSettings, 'pictures' | 'guide'>,
  pictures: readonly Image[],
  sketches: readonly Image[] = [],
): TileMaker =>
  new TileMaker(
    settings.pictures.map(({ kind }, i) => ({ kind, image: requirePicture(pictures, i) })),
    guideOf(settings),
    sketches[guideOf(settings)],
  );

/** @param maker of the ticket's pictures @throws input/bad-settings, run/cancelled */
export function makeTiles(settings: SeamlessSettings, maker: TileMaker, watch: FlatWatch): FlatMap[] {
  const tiles = maker.make(settings, {
    onProgress: (share) => watch.onProgress({ stage: 'trace', share, secondsLeft: null }),
    check: () => throwIfCancelled(watch.cancelFlag),
  });
  const border = bordersOf(settings);
  // Whatever is done to them, maps go on meaning what they meant.
  return settings.pictures.map(({ kind }, i) => ({
    kind,
    image: { ...adjust(tiles[i]!, settings.adjust[kind] ?? [], border), ...meaningOf(tiles[i]!) },
    picture: () => adjust(maker.framed(settings)[i]!.image, settings.adjust[kind] ?? [], 'clamp'),
  }));
}

const bordersOf = ({ way, ends }: SeamlessSettings): Border =>
  way !== 'ends' || (ends.across.method !== 'none' && ends.up.method !== 'none') ? 'repeat' : 'clamp';
