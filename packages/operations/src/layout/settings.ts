import { z } from 'zod';
import { FIRST_TILE } from '@zographos/core/uv';
import { mapSize, tileNumber } from '../bake/settings.ts';
import { shortNumber } from '../wording.ts';

export const uvSetName = z.string().trim().min(1, 'A UV set needs a name.').max(60);

const WITHIN = 'A window lies within 0 to 1.';
const share = z.number().min(0, WITHIN).max(1, WITHIN);

const spacing = z.union([z.number().min(0).max(1024), z.strictObject({ share: z.number().min(0).max(0.25) })]);

/** Room around islands: texels, or a share of the width of the tile. */
export type Spacing = z.infer<typeof spacing>;

/**
 * A spacing in texels of a map.
 * @example texelsOf({ share: 0.005 }, { width: 2048 }) // 10.24
 */
export const texelsOf = (room: Spacing, { width }: { width: number }): number =>
  typeof room === 'number' ? room : room.share * width;

/** “8 px”, “0.5 % of the tile”. */
export const spacingText = (room: Spacing): string =>
  typeof room === 'number' ? `${shortNumber(room)} px` : `${shortNumber(room.share * 100)} % of the tile`;

/** Everything an artist can say about a new layout. */
export const layoutSettings = z.strictObject({
  /** Cut anew, or put the islands that are there in other places. */
  method: z.enum(['unwrap', 'pack']),
  /** The layout that is packed. */
  uvSet: z.int().min(0).max(7).default(0),
  /** Of the map that will lie on each tile; gap and edge are in its texels, or shares of its width. */
  size: mapSize,
  gap: spacing,
  edge: spacing,
  rotate: z.boolean().default(true),
  /** The same texels for each mesh unit everywhere, or as islands stand to each other now. */
  density: z.enum(['equal', 'kept']).default('equal'),
  /** Texels for each mesh unit; or as many as fit. */
  scale: z.union([z.literal('fill'), z.number().positive()]).default('fill'),
  /** The part of each tile that is filled: u and v from and to. */
  window: z
    .tuple([share, share, share, share])
    .refine(([u0, v0, u1, v1]) => u0 < u1 && v0 < v1, 'A window needs some width and height.')
    .default([0, 0, 1, 1]),
  tiles: z.array(tileNumber).min(1).default([FIRST_TILE]),
  /** Objects together on one layout, or each on one of its own. */
  together: z.boolean().default(true),
  /** What the lengths of some objects are multiplied by: 0.5 gives one half the texels along a side. */
  weights: z.record(z.string(), z.number().positive().max(100)).default({}),
  /** Orders in which islands are tried; the best is kept. */
  passes: z.int().min(1).max(64).default(3),
  /** Where islands are rather cut. */
  seams: z
    .strictObject({
      /** 0 cuts anywhere, 1 along hard edges only if nothing speaks against it. */
      hardEdges: z.number().min(0).max(1),
      /** Whether the present cuts are kept where they can be. */
      existing: z.boolean(),
      /** How much an island may bend before it is cut: more gives fewer islands with more stretch. */
      bend: z.number().min(0.1).max(10),
    })
    .prefault({ hardEdges: 0.5, existing: false, bend: 2 }),
  /**
   * Islands of the present layout that stay as they are and are kept clear of, each named by one of its triangles: a list
   * for each object.
   */
  locked: z.array(z.array(z.int().min(0))).default([]),
  /** What the new UV set is called, and whether it stands before or behind those that are there. */
  name: uvSetName.default('Layout'),
  place: z.enum(['first', 'last']).default('first'),
});

export type LayoutSettings = z.infer<typeof layoutSettings>;

export const DEFAULT_LAYOUT: LayoutSettings = layoutSettings.parse({
  method: 'unwrap',
  size: { width: 1024, height: 1024 },
  gap: 8,
  edge: 8,
});
