import { z } from 'zod';
import { ZographosError } from '@zographos/core/errors';
import { bakeSettings } from '../bake/settings.ts';
import { deriveSettings } from '../derive/settings.ts';
import { fieldSettings } from '../field/settings.ts';
import { seamlessSettings } from '../seamless/settings.ts';

/** One mesh a saved ticket works on: an object of a file that lies beside the ticket. */
const ticketInput = z.strictObject({
  file: z.string().min(1),
  /** The object's name in the file; every object of the file when left out. */
  object: z.string().optional(),
});

const base = { zographos: z.literal('ticket'), version: z.literal(2), name: z.string() };

const bakeTicketFile = z.strictObject({
  ...base,
  operation: z.literal('bake'),
  settings: bakeSettings,
  inputs: z.strictObject({
    receivers: z.array(ticketInput).min(1),
    sources: z.array(ticketInput).min(1),
    cage: ticketInput.optional(),
    mask: ticketInput.optional(),
    pictures: z.array(ticketInput).optional(),
  }),
});

/** Flat material is made of pictures, in the order of its settings. */
const flatInputs = z.strictObject({ pictures: z.array(ticketInput) });

/** A ticket saved as a file, to be run anywhere without a server. */
export const ticketFile = z.discriminatedUnion('operation', [
  bakeTicketFile,
  z.strictObject({ ...base, operation: z.literal('seamless'), settings: seamlessSettings, inputs: flatInputs }),
  z.strictObject({ ...base, operation: z.literal('derive'), settings: deriveSettings, inputs: flatInputs }),
  z.strictObject({ ...base, operation: z.literal('field'), settings: fieldSettings, inputs: flatInputs }),
]);

export type TicketFile = z.infer<typeof ticketFile>;
export type TicketInput = z.infer<typeof ticketInput>;

/** @throws input/unreadable-file when the text is not a ticket, naming the first thing that is wrong */
export function parseTicketFile(name: string, text: string): TicketFile {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch (error) {
    throw new ZographosError('input/unreadable-file', `“${name}” is not JSON. Save the ticket again from the studio.`, {
      cause: error,
    });
  }
  const parsed = ticketFile.safeParse(upgraded(json));
  if (parsed.success) return parsed.data;
  const issue = parsed.error.issues[0]!;
  throw new ZographosError(
    'input/unreadable-file',
    `“${name}” is not a ticket that can be run: “${issue.path.join('.') || 'ticket'}”: ${issue.message}. Save it again from the studio.`,
  );
}

/** Tickets of the first version had exactly one receiver. */
function upgraded(json: unknown): unknown {
  const first = z
    .looseObject({ version: z.literal(1), inputs: z.looseObject({ receiver: z.unknown() }) })
    .safeParse(json);
  if (!first.success) return json;
  const { receiver, ...inputs } = first.data.inputs;
  return { ...first.data, version: 2, inputs: { receivers: [receiver], ...inputs } };
}
