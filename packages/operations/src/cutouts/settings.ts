import { z } from 'zod';
import { channelPick } from '@zographos/formats/meaning';
import { mapSize } from '../bake/settings.ts';
import { adjustments, pictureMeaning } from '../flat/adjustments.ts';

/** Things that stand alone in images, such as leaves, packed into an atlas with their opacity. */
export const cutoutsSettings = z.strictObject({
  /** What each of the images holds, in their order. */
  pictures: z
    .array(pictureMeaning)
    .min(1, 'Choose at least one image.')
    .max(16)
    .refine((all) => new Set(all.map(({ kind }) => kind)).size === all.length, 'Each kind of map can be there once.'),
  /** What is opaque: a channel of one of the images; the opacity among them, or the alpha of the first, if left open. */
  mask: z
    .strictObject({ image: z.int().min(0).max(15), pick: channelPick.nullable().default(null) })
    .nullable()
    .default(null),
  /** Opacity above which a texel counts, as a share. */
  threshold: z.number().min(0).max(0.99).default(0.1),
  /** The smallest that is kept, as a share of the image. */
  least: z.number().min(0).max(0.5).default(0.0005),
  /** Texels around each, into which its edge goes on. */
  gutter: z.int().min(0).max(256).default(8),
  size: mapSize,
  adjust: adjustments,
});

export type CutoutsSettings = z.infer<typeof cutoutsSettings>;
