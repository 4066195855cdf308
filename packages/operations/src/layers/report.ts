import { z } from 'zod';
import { finding } from '../proof/finding.ts';

/** The measured outcome of a stack of layers. */
export const layersReport = z.object({
  /** The fingerprint of the layout that the maps lie on; null where they are flat. */
  layout: z.string().nullable(),
  texels: z.number(),
  findings: z.array(finding),
  seconds: z.number(),
  peakMemoryBytes: z.number(),
});

export type LayersReport = z.infer<typeof layersReport>;
