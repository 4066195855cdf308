import { z } from 'zod';

/** The measured outcome of a run, kept with it and written by the command line as report.json. */
export const runReport = z.object({
  rays: z.number(),
  misses: z.number(),
  hitsFromBehind: z.number(),
  texels: z.object({ covered: z.number(), missed: z.number(), overlapping: z.number() }),
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
  /** What the artist should know about the result, a sentence each. */
  findings: z.array(z.object({ severity: z.enum(['note', 'warning']), sentence: z.string() })),
});

export type RunReport = z.infer<typeof runReport>;

export const STAGES = ['load', 'build', 'trace', 'pad', 'encode'] as const;
export type Stage = (typeof STAGES)[number];
