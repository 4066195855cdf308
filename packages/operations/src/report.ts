import { z } from 'zod';

const place = z.tuple([z.number(), z.number(), z.number()]);

/** What the artist should know about a result: a sentence, where it is so, and what to change in the ticket. */
const finding = z.object({
  kind: z.string().default('note'),
  severity: z.enum(['note', 'warning']),
  sentence: z.string(),
  places: z
    .array(
      z.object({
        tile: z.number(),
        x: z.number(),
        y: z.number(),
        texels: z.number(),
        position: place.nullable(),
        part: z.string().nullable(),
      }),
    )
    .default([]),
  remedy: z
    .object({
      label: z.string(),
      /** Settings of the ticket that become others. */
      change: z.record(z.string(), z.unknown()),
      /** Whether receivers and sources change places. */
      exchange: z.boolean().default(false),
      /** The room in which it is mended, where the ticket is not what is wrong. */
      room: z.enum(['uv']).nullable().default(null),
    })
    .nullable()
    .default(null),
});

export type Finding = z.infer<typeof finding>;

/** The measured outcome of a run, kept with it and written by the command line as report.json. */
export const runReport = z.object({
  rays: z.number(),
  misses: z.number(),
  hitsFromBehind: z.number(),
  texels: z.object({ covered: z.number(), missed: z.number(), overlapping: z.number() }),
  /** The fingerprint of the layout that the maps belong to. */
  layout: z.string().default(''),
  /** Texels that were taken over from an earlier bake because nothing about them has changed. */
  takenOver: z.number().default(0),
  /** Counts over signed distance from the receiver, from −reach.in to +reach.out. */
  hitDistances: z.array(z.number()),
  /** The reach used, in mesh units, measured if the ticket left it open. */
  reach: z.object({ out: z.number(), in: z.number() }),
  /** Seconds of each stage. */
  seconds: z.object({
    load: z.number(),
    build: z.number(),
    trace: z.number(),
    pad: z.number(),
    encode: z.number(),
    total: z.number(),
  }),
  peakMemoryBytes: z.number(),
  /** What the colours of an ID map stand for: linear r, g, b. */
  legend: z.array(z.object({ name: z.string(), color: z.array(z.number()) })).default([]),
  /** Occlusion: how far texels are off for want of rays, as a standard deviation of 0 to 1. */
  noise: z.number().nullable().default(null),
  /** How far apart both sides of seams are, by map, before and after mending. */
  seams: z
    .record(z.string(), z.object({ mean: z.number(), worst: z.number(), before: z.number().nullable() }))
    .default({}),
  /** How much the receiver with its normal map looks like the source, 1 for quite alike; view by view. */
  likeness: z.array(z.object({ from: place, ssim: z.number() })).default([]),
  /** What the artist should know about the result. */
  findings: z.array(finding),
});

export type RunReport = z.infer<typeof runReport>;

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

/** The measured outcome of flat material. */
export const flatReport = z.object({
  /** By map: the mean jump across the border over that between neighbours within; about 1 where it cannot be told. */
  seams: z.record(z.string(), z.object({ across: z.number(), up: z.number() })),
  repetition: z.object({
    of: z.string(),
    /** How alike the tile is to itself when moved, at most. */
    likeness: z.number(),
    shift: z.tuple([z.number(), z.number()]).readonly(),
    telltales: z.array(
      z.object({ x: z.number(), y: z.number(), strength: z.number(), why: z.enum(['twin', 'stands out']) }),
    ),
  }),
  seconds: z.number(),
});

export type FlatReport = z.infer<typeof flatReport>;

export const STAGES = ['load', 'build', 'trace', 'pad', 'cut', 'pack', 'encode'] as const;
export type Stage = (typeof STAGES)[number];
