import { z } from 'zod';

const place = z.tuple([z.number(), z.number(), z.number()]);

/** What the artist should know about a result: a sentence, where it is so, and what to change in the ticket. */
export const finding = z.object({
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

type More = Partial<Pick<Finding, 'places'>> & {
  remedy?: { label: string; change?: Record<string, unknown>; exchange?: boolean; room?: 'uv' };
};

const findingOf =
  (severity: Finding['severity']) =>
  (kind: string, sentence: string, { places = [], remedy }: More = {}): Finding => ({
    kind,
    severity,
    sentence,
    places,
    remedy: remedy ? { change: {}, exchange: false, room: null, ...remedy } : null,
  });

/** Something the artist should know. */
export const note = findingOf('note');
/** Something that is probably wrong. */
export const warning = findingOf('warning');
