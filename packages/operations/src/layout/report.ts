import { z } from 'zod';

/** The measured outcome of a layout. */
export const layoutReport = z.object({
  /** Share of the tiles that islands cover. */
  coverage: z.number(),
  /** Texels for each mesh unit (where the density was kept: times the size before). */
  scale: z.number(),
  islands: z.number(),
  seconds: z.number(),
});

export type LayoutReport = z.infer<typeof layoutReport>;
