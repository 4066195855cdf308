import { z } from 'zod';
import { MAP_KIND_IDS } from '@zographos/core/image';
import { mapConvention } from '@zographos/formats/meaning';

/** What each file of a delivery is, so that whoever gets it need not guess. It lies in the delivery as manifest.json. */
export const manifest = z.object({
  zographos: z.literal('delivery'),
  version: z.literal(2),
  project: z.string(),
  profile: z.string(),
  made: z.iso.datetime(),
  sets: z.array(
    z.object({
      name: z.string(),
      /** Of the tile in the world, in millimetres; null where it lies on a mesh or nobody said. */
      tileWidth: z.number().nullable(),
      mesh: z.string().nullable(),
    }),
  ),
  files: z.array(
    z.object({
      path: z.string(),
      set: z.string(),
      tile: z.int(),
      kind: z.enum(['map', 'packed', 'layers', 'mesh']),
      format: z.string(),
      width: z.int(),
      height: z.int(),
      /** Of colours: `srgb` through its curve, else numbers as they are; alpha is always a number. */
      colorSpace: z.enum(['srgb', 'linear']),
      /** What each channel holds, red first. */
      channels: z.array(
        z.object({
          map: z.string().nullable(),
          channel: z.int(),
          /** 1 − value was written: smoothness for roughness. */
          inverted: z.boolean(),
          constant: z.number().nullable(),
        }),
      ),
      /** Values that stand for the least and the greatest number of the file; of floats, 0 and 1 themselves. */
      range: z.tuple([z.number(), z.number()]),
      /** Of maps of directions and heights: how they are written in this file, by map. */
      conventions: z.partialRecord(z.enum(MAP_KIND_IDS), mapConvention),
      bytes: z.int(),
      sha256: z.string(),
      /** What made the maps, as a sentence. */
      made: z.array(z.string()),
    }),
  ),
});

export type Manifest = z.infer<typeof manifest>;
