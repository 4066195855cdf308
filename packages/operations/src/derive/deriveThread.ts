import { MapDeriver, SkyOfCuts, type DerivedKind } from '@zographos/core/derive';
import { sharedImage, type Image } from '@zographos/core/image';
import type { DeriveSettings } from './settings.ts';
import { answerJobs } from '../threads/teamThread.ts';

/** One map, or what one cut sees of the sky. */
export interface DeriveJob {
  /** In shared memory: what the ticket is made of, or the height that was made of it. The same for a whole run. */
  of: 'source' | 'height';
  picture: Image;
  settings: DeriveSettings;
  make: DerivedKind | { cut: number };
}

export interface DeriveAnswer {
  image: Image;
  /** How high white lies over black, in tile widths. */
  depth: number;
}

/** By what they are of; the last alone, for they hold much. */
let known: { of: DeriveJob['of']; deriver: MapDeriver } | null = null;
let sky: SkyOfCuts | null = null;

answerJobs(({ of, picture, settings, make }: DeriveJob): DeriveAnswer => {
  const { from, repeats, ao } = settings;
  if (known?.of !== of) known = { of, deriver: new MapDeriver(picture, from, repeats) };
  const { deriver } = known;
  const depth = deriver.depth(settings);
  if (typeof make === 'string') return { image: sharedImage(deriver.make(make, settings)), depth };
  sky ??= new SkyOfCuts(picture, { ...ao, depth }, repeats ? 'repeat' : 'clamp');
  return { image: sharedImage(sky.sky(make.cut)), depth };
});
