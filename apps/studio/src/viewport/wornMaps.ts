import type { MapRevision } from '@zographos/contracts';

/** What a model can wear: what it is lit with, and the one map that is shown alone. */
export const WORN = ['color', 'normal', 'occlusion', 'chosen'] as const;
export type Worn = (typeof WORN)[number];

/** The maps of one tile that a model wears. */
export type WornMaps = { tile: number } & Record<Worn, MapRevision | null>;

/** The same as pictures, as far as there are any. */
export type WornPictures = Record<Worn, ImageBitmap | null>;
