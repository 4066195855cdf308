import { z } from 'zod';
import { MAP_KIND_IDS } from '@zographos/core/image';
import { DEFAULT_TILE, END_METHODS } from '@zographos/core/seamless';
import { mapSize } from '../bake/settings.ts';
import { SEAMLESS_WAYS } from './options.ts';
import { adjustments, pictureMeaning } from '../flat/adjustments.ts';

const share = z.number().min(0).max(1);
const place = z.tuple([z.number(), z.number()]);

const ends = z
  .strictObject({
    method: z.enum(END_METHODS).default('cut'),
    width: z.number().positive().max(0.5, 'Ends can lie on each other over half the picture at most.').default(0.125),
    softness: share.default(0.08),
    balance: share.default(0.5),
  })
  .prefault({});

/** What is painted over with a brush, and vanishes. */
const spotNow = z.strictObject({
  path: z.array(place).min(1, 'Paint over what is to vanish.').max(2000),
  radius: z.number().positive().max(0.5),
  reach: z.number().min(0).max(4).default(2),
  from: place.nullable().default(null),
});
export type SpotSettings = z.infer<typeof spotNow>;

/** Spots that were circles, with a share of the radius left for the edge. */
const circle = z.strictObject({ to: place, from: place, radius: z.number(), softness: share.default(0.6) });

const spot = z.preprocess((value) => {
  const { data } = circle.safeParse(value);
  if (!data) return value;
  const softness = Math.min(0.8, data.softness);
  return {
    path: [data.to],
    from: data.from,
    radius: data.radius * (1 - softness),
    reach: softness / (1 - softness),
  };
}, spotNow);

/** Everything an artist can say about a tile made of pictures. Lengths are shares, so that it is the same at every size. */
export const seamlessSettings = z.strictObject({
  /** What each of the pictures holds, in their order. */
  pictures: z
    .array(pictureMeaning)
    .min(1, 'Choose at least one picture.')
    .max(16)
    .refine((all) => new Set(all.map(({ kind }) => kind)).size === all.length, 'Each kind of map can be there once.'),
  /** The map by which cuts and patches are found; the colour, or the first, if left open. */
  guide: z.enum(MAP_KIND_IDS).nullable().default(null),
  /** Four corners of what is used: upper left, upper right, lower right, lower left; y downwards. */
  corners: z.tuple([place, place, place, place]).default([
    [0, 0],
    [1, 0],
    [1, 1],
    [0, 1],
  ]),
  even: z
    .strictObject({
      radius: z.number().positive().max(1).default(0.25),
      light: share.default(0),
      color: share.default(0),
      shadows: share.default(0),
      highlights: share.default(0),
    })
    .prefault({}),
  way: z.enum(SEAMLESS_WAYS).default('ends'),
  ends: z.strictObject({ across: ends, up: ends }).prefault({}),
  patches: z
    .strictObject({
      patch: z.number().min(0.05).max(1).default(0.5),
      overlap: z.number().min(0.05).max(0.5).default(0.45),
      spread: z.number().min(0.5).max(8).default(1),
      variety: z.number().min(0).max(2).default(0.1),
      seed: z.int().min(0).max(1_000_000).default(1),
    })
    .prefault({}),
  wang: z
    .strictObject({
      tile: z.number().min(0.1).max(0.9).default(DEFAULT_TILE.wang.tile),
      variety: z.number().min(0).max(2).default(DEFAULT_TILE.wang.variety),
      seed: z.int().min(0).max(1_000_000).default(DEFAULT_TILE.wang.seed),
    })
    .prefault({}),
  /** Spots that give way to texture from elsewhere. */
  spots: z.array(spot).max(200).default([]),
  size: mapSize,
  adjust: adjustments,
});

export type SeamlessSettings = z.infer<typeof seamlessSettings>;

/** The number of the picture by which cuts are found. */
export function guideOf({ guide, pictures }: Pick<SeamlessSettings, 'guide' | 'pictures'>): number {
  const wanted = pictures.findIndex(({ kind }) => kind === (guide ?? 'basecolor'));
  return Math.max(0, wanted);
}
