import { z } from 'zod';
import { MATCH_WAYS } from '@zographos/core/combine';
import { BLEND_MODES, COLOR_BLEND_MODES, MAP_KIND_IDS } from '@zographos/core/image';
import { NORMAL_BLENDS } from '@zographos/core/layers';
import { channelPick } from '@zographos/formats/meaning';
import { mapSize } from '../bake/settings.ts';
import { adjustment, adjustments, pictureMeaning } from '../flat/adjustments.ts';

const share = z.number().min(0).max(1);

/** The most images of a ticket, and layers of a map. */
const MOST = 16;

const source = {
  /** The number of an image of the ticket. */
  image: z
    .int()
    .min(0)
    .max(MOST - 1)
    .default(0),
  /** One of its channels; all of it where nothing is picked. */
  pick: channelPick.nullable().default(null),
  adjust: z.array(adjustment).max(16).default([]),
};

const mask = z.discriminatedUnion('by', [
  z.strictObject({
    by: z.literal('height'),
    /** Heights of the layer, and of what lies below it. */
    own: z.strictObject(source).prefault({}),
    below: z.strictObject(source).prefault({}),
    raise: z.number().min(-1).max(1).default(0),
    softness: share.default(0.1),
  }),
  z.strictObject({ by: z.literal('image'), ...source }),
]);

const layer = z.strictObject({
  ...source,
  match: z
    .strictObject({
      image: source.image,
      way: z.enum(MATCH_WAYS).default('histogram'),
      amount: share.default(1),
    })
    .nullable()
    .default(null),
  blend: z.enum([...BLEND_MODES, ...COLOR_BLEND_MODES]).default('normal'),
  normalBlend: z.enum(NORMAL_BLENDS).default('replace'),
  opacity: share.default(1),
  mask: mask.nullable().default(null),
});

/** Maps that are put together from images and channels, each a short list of layers from the bottom up. */
export const combineSettings = z.strictObject({
  /** What each of the images holds, in their order. */
  pictures: z.array(pictureMeaning).min(1, 'Choose at least one image.').max(MOST),
  maps: z
    .array(z.strictObject({ kind: z.enum(MAP_KIND_IDS), layers: z.array(layer).min(1).max(MOST).prefault([{}]) }))
    .min(1, 'Combine at least one map.')
    .max(MOST)
    .refine((all) => new Set(all.map(({ kind }) => kind)).size === all.length, 'Each kind of map can be there once.'),
  /** Whether the images repeat, so that a blur goes on across their borders. */
  repeats: z.boolean().default(true),
  size: mapSize,
  adjust: adjustments,
});

export type CombineSettings = z.infer<typeof combineSettings>;
