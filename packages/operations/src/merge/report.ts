import { z } from 'zod';

const drawCost = z.object({
  objects: z.number(),
  materials: z.number(),
  images: z.number(),
  /** Objects times the materials that each has. */
  drawCalls: z.number(),
  /** Bytes of all images as a graphics card holds them: four for each texel, and a third for their mip levels. */
  textureBytes: z.number(),
});

/** What drawing costs. */
export type DrawCost = z.infer<typeof drawCost>;

/** What drawing cost before a merge, and costs after it. */
export const mergeReport = z.object({ before: drawCost, after: drawCost, seconds: z.number() });
export type MergeReport = z.infer<typeof mergeReport>;
