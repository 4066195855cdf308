import { z } from 'zod';
import { finding } from '../proof/finding.ts';

/** What a light bake has measured. */
export const lightReport = z.object({
  /** The fingerprint of the layout that the maps lie on. */
  layout: z.string(),
  /** Samples of each texel, and paths and rays of all of them. */
  samples: z.number(),
  paths: z.number(),
  rays: z.number(),
  texels: z.number(),
  /** Texels that lie in two triangles at once, of which one was taken. */
  overlapping: z.number(),
  /** Texels of which a part lies within another mesh, and was not sampled. */
  moved: z.number(),
  /** Standard error of the combined light of a texel over the mean of all: root of the mean square, 0 for none. */
  noise: z.number(),
  /** Mean of the combined light over all covered texels. */
  mean: z.tuple([z.number(), z.number(), z.number()]),
  /** What taking noise out has changed: root of the mean square of the combined light over its mean; null where none was. */
  denoised: z.number().nullable(),
  /** Names of the light groups that were told apart, in the order of their maps. */
  groups: z.array(z.string()),
  seconds: z.object({ load: z.number(), build: z.number(), trace: z.number(), total: z.number() }),
  peakMemoryBytes: z.number(),
  findings: z.array(finding),
});

export type LightReport = z.infer<typeof lightReport>;
