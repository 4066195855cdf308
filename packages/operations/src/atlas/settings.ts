import { z } from 'zod';
import { mapSize } from '../bake/settings.ts';

/** Where an image set lies, in texels from the lower left. */
export const placement = z.strictObject({
  x: z.int().min(0),
  y: z.int().min(0),
  width: z.int().min(1).max(16384),
  height: z.int().min(1).max(16384),
  /** How often the set repeats across it; once if left out. */
  across: z.int().min(1).max(1024).optional(),
});

/** Everything an artist can say about image sets that are placed into one atlas. */
export const atlasSettings = z.strictObject({
  /** Of the mesh that lies on the atlas, and of the atlas's image set. */
  name: z.string().trim().min(1, 'An atlas needs a name.').max(100),
  /** The image sets, and how large the maps of each are. */
  sets: z
    .array(z.strictObject({ imageSet: z.uuid(), name: z.string(), ...mapSize.shape }))
    .min(1)
    .max(1000),
  size: mapSize,
  /** Equal squares in rows, any sizes on shelves, strips over the whole width, or places of the artist's own, in texels from the lower left. */
  arrangement: z.union([z.enum(['rows', 'shelves', 'trims']), z.array(placement)]),
  /** A gutter around each set that keeps so many halvings from bleeding: 2 to this power, in texels; null for none. */
  halvings: z.int().min(0).max(10).nullable(),
  /** Whether sets may be made smaller or larger to fit: as many equal squares as there are sets. */
  resample: z.boolean(),
  /** Whether the meshes of the sets stay apart; left out, they become one. */
  keepMeshes: z.boolean().optional(),
  /** Whether UV sets beside that of the atlas stay on the one mesh; left out, they go. */
  keepUvSets: z.boolean().optional(),
});

export type AtlasSettings = z.infer<typeof atlasSettings>;
