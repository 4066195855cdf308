import { z } from 'zod';
import { PLAIN_BRUSH, POINT, type Stroke } from '@zographos/core/layers';
import { colorText } from '../colorText.ts';

/** The most points of one stroke. */
export const MOST_POINTS = 100_000;

const share = z.number().min(0).max(1);
const brush = z.strictObject({
  tool: z.enum(['paint', 'erase']).default('paint'),
  radius: z.number().positive().max(1e5).default(PLAIN_BRUSH.radius),
  hardness: share.default(PLAIN_BRUSH.hardness),
  strength: share.default(1),
  flow: share.default(1),
  spacing: z.number().min(0.02).max(10).default(PLAIN_BRUSH.spacing),
  scatter: z.number().min(0).max(10).default(0),
  pressure: z.strictObject({ radius: z.boolean().default(false), strength: z.boolean().default(true) }).prefault({}),
});
const paint = z.union([
  z.strictObject({ grey: share }),
  z.strictObject({
    basecolor: colorText.optional(),
    roughness: share.optional(),
    metallic: share.optional(),
    height: z.number().min(-1000).max(1000).optional(),
    opacity: share.optional(),
    emission: colorText.optional(),
  }),
]);

/** A stroke as it is written in a file: its points as numbers one after the other, seven for each. */
export const strokeText = z
  .strictObject({
    brush: brush.prefault({}),
    paint,
    points: z
      .array(z.number())
      .min(POINT)
      .max(MOST_POINTS * POINT)
      .refine((all) => all.length % POINT === 0, 'A point has seven numbers: x, y, z, its normal and pressure.'),
    seed: z.int().min(0).default(0),
  })
  .transform((text): Stroke => ({ ...text, points: Float32Array.from(text.points) }));
