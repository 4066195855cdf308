import { z } from 'zod';
import { MAP_KINDS } from '@zographos/core/image';
import { mapSize } from '../bake/settings.ts';

const placement = z.strictObject({
  x: z.int().min(0),
  y: z.int().min(0),
  width: z.int().min(1).max(16384),
  height: z.int().min(1).max(16384),
});

/** Everything an artist can say about image sets that are placed into one sheet. */
export const sheetSettings = z.strictObject({
  /** Of the mesh that lies on the sheet, and of the sheet's image set. */
  name: z.string().trim().min(1, 'A sheet needs a name.').max(100),
  /** The image sets, and how large the maps of each are. */
  sets: z
    .array(z.strictObject({ imageSet: z.uuid(), name: z.string(), ...mapSize.shape }))
    .min(1)
    .max(1000),
  size: mapSize,
  /** Equal squares in rows, any sizes on shelves, or places of the artist's own, in texels from the lower left. */
  arrangement: z.union([z.enum(['rows', 'shelves']), z.array(placement)]),
  /** A gutter around each set that keeps so many halvings from bleeding: 2 to this power, in texels; null for none. */
  halvings: z.int().min(0).max(10).nullable(),
  /** Whether sets may be made smaller or larger to fit: as many equal squares as there are sets. */
  resample: z.boolean(),
});

export type SheetSettings = z.infer<typeof sheetSettings>;

/** What came of a sheet. */
export const sheetReport = z.object({
  places: z.array(placement),
  maps: z.array(z.enum(MAP_KINDS)),
  /** Sets that lack a map, which is neutral there. */
  neutral: z.array(z.object({ set: z.string(), map: z.enum(MAP_KINDS) })),
  seconds: z.number(),
});

export type SheetReport = z.infer<typeof sheetReport>;
