import { z } from 'zod';

/** The measured outcome of flat material. */
export const flatReport = z.object({
  /** By map: the mean jump across the border over that between neighbours within; about 1 where it cannot be told. */
  seams: z.record(z.string(), z.object({ across: z.number(), up: z.number() })),
  /** How much the tile shows where it was joined; runs of before it was measured have none. */
  joins: z
    .object({
      visibility: z.number(),
      worst: z.number(),
      places: z.array(z.object({ x: z.number(), y: z.number(), strength: z.number() })),
    })
    .nullable()
    .default(null),
  repetition: z.object({
    of: z.string(),
    /** How alike the tile is to itself when moved, at most. */
    likeness: z.number(),
    shift: z.tuple([z.number(), z.number()]).readonly(),
    /** How alike it is to its mirror image, at most. */
    mirrored: z.number().default(0),
    /** The same of the picture that it was made of. */
    usual: z.object({ likeness: z.number(), mirrored: z.number() }).nullable().default(null),
    telltales: z.array(
      z.object({ x: z.number(), y: z.number(), strength: z.number(), why: z.enum(['twin', 'stands out']) }),
    ),
  }),
  /** Of cut-outs: where each lies in its atlas, in texels from the lower left, and by how much all were reduced. */
  cutouts: z
    .object({
      places: z.array(z.object({ x: z.number(), y: z.number(), width: z.number(), height: z.number() })),
      scale: z.number(),
    })
    .nullable()
    .default(null),
  seconds: z.number(),
});

export type FlatReport = z.infer<typeof flatReport>;
