import { z } from 'zod';

/** What came of a delivery. */
export const deliveryReport = z.object({
  files: z.int(),
  bytes: z.number(),
  /** What the archive is named by, where it was made into one. */
  archive: z.string(),
  notes: z.array(z.string()),
  seconds: z.number(),
});

export type DeliveryReport = z.infer<typeof deliveryReport>;
