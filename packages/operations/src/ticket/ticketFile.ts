import { z } from 'zod';
import { ZographosError } from '@zographos/core/errors';
import { OPERATIONS, TICKET_KINDS, type OperationSettings, type TicketKind } from '../registry.ts';

/** One mesh a saved ticket works on: an object of a file that lies beside the ticket. */
const ticketInput = z.strictObject({
  file: z.string().min(1),
  /** The object's name in the file; every object of the file when left out. */
  object: z.string().optional(),
});

const base = { zographos: z.literal('ticket'), version: z.literal(2), name: z.string() };

const INPUTS = {
  mesh: z.strictObject({
    receivers: z.array(ticketInput).min(1),
    sources: z.array(ticketInput).min(1),
    cage: ticketInput.optional(),
    mask: ticketInput.optional(),
    pictures: z.array(ticketInput).optional(),
  }),
  /** Flat material is made of images, in the order of its settings. */
  flat: z.strictObject({ pictures: z.array(ticketInput) }),
  /** Layers lie on meshes, or on none where the tile is flat. */
  set: z.strictObject({ receivers: z.array(ticketInput), pictures: z.array(ticketInput) }),
  /** Meshes in light, among others; images are their environment and what they wear. */
  lit: z.strictObject({
    receivers: z.array(ticketInput).min(1),
    sources: z.array(ticketInput),
    pictures: z.array(ticketInput),
  }),
};

/** A ticket saved as a file, to be run anywhere without a server. */
export type TicketFile = {
  [Kind in TicketKind]: z.infer<z.ZodObject<typeof base>> & {
    operation: Kind;
    settings: OperationSettings[Kind];
    inputs: z.infer<(typeof INPUTS)[(typeof OPERATIONS)[Kind]['ticket']]>;
  };
}[TicketKind];

const fileOf = (kind: TicketKind) => {
  const { settings, ticket } = OPERATIONS[kind];
  return z.strictObject({ ...base, operation: z.literal(kind), settings, inputs: INPUTS[ticket] });
};

// A union over the registry, whose members the compiler cannot see.
export const ticketFile = z.discriminatedUnion('operation', [
  fileOf(TICKET_KINDS[0]),
  ...TICKET_KINDS.slice(1).map(fileOf),
]) as unknown as z.ZodType<TicketFile>;

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
