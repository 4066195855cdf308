import { z } from 'zod';
import type { Lattice } from '@zographos/core/bake';
import { finding } from '../proof/finding.ts';
import { AIMS } from './options.ts';

const place = z.tuple([z.number(), z.number(), z.number()]);

/** Columns and rows of a repeated source on the tile, and how much farther apart rows lie than in the regular grid. */
export const lattice = z.object({ columns: z.int(), rows: z.int(), stretch: z.number() }) satisfies z.ZodType<Lattice>;

/** The measured outcome of a bake, kept with its run and written by the command line as report.json. */
export const bakeReport = z.object({
  rays: z.number(),
  misses: z.number(),
  hitsFromBehind: z.number(),
  texels: z.object({ covered: z.number(), missed: z.number(), overlapping: z.number() }),
  /** The fingerprint of the layout that the maps belong to. */
  layout: z.string().default(''),
  /** Texels that were taken over from an earlier bake because nothing about them has changed. */
  takenOver: z.number().default(0),
  /** Null for a source that is not repeated. */
  repeat: lattice.nullable().default(null),
  /** Counts over signed distance from the receiver, from −reach.in to +reach.out. */
  hitDistances: z.array(z.number()),
  /** How the source was found; reach and distances mean nothing where it was through shared triangles. */
  aim: z.enum(AIMS).default('rays'),
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

export type BakeReport = z.infer<typeof bakeReport>;
