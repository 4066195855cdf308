import { z } from 'zod';

/** The measured outcome of a layout. */
export const layoutReport = z.object({
  /** Share of the tiles that islands cover. */
  coverage: z.number(),
  /** Texels for each mesh unit (where the density was kept: times the size before). */
  scale: z.number(),
  islands: z.number(),
  /** Pairs of triangles that overlap in a new layout all the same, and where some of them do: u, v. */
  overlaps: z.object({ pairs: z.number(), places: z.array(z.tuple([z.number(), z.number()])) }).default({
    pairs: 0,
    places: [],
  }),
  /** The number of the new UV set, from 0. */
  uvSet: z.int().default(0),
  seconds: z.number(),
});

export type LayoutReport = z.infer<typeof layoutReport>;
