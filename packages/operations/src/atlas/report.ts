import { z } from 'zod';
import { MAP_KIND_IDS } from '@zographos/core/image';
import { placement } from './settings.ts';

/** What came of an atlas. */
export const atlasReport = z.object({
  places: z.array(placement),
  maps: z.array(z.enum(MAP_KIND_IDS)),
  /** Sets that lack a map, which is neutral there. */
  neutral: z.array(z.object({ set: z.string(), map: z.enum(MAP_KIND_IDS) })),
  seconds: z.number(),
});

export type AtlasReport = z.infer<typeof atlasReport>;
