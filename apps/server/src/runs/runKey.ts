import { createHash } from 'node:crypto';
import { In, type DataSource } from 'typeorm';
import {
  eachInput,
  inputList,
  OPERATIONS,
  parseSettings,
  type Operation,
  type OperationInputs,
  type OperationKind,
  type OperationSettings,
} from '@zographos/operations';
import { assets, type TicketRow } from '../data/entities.ts';
import { latestRevisions } from '../data/latestRevisions.ts';
import { canonicalJson } from './canonicalJson.ts';

/**
 * The name of a result before it exists: SHA-256 over the operation, its version, its settings and the content
 * of its inputs, and their names where it goes by them. Equal keys mean equal bytes.
 */
export function runKey<Kind extends OperationKind>(
  operation: Kind,
  settings: unknown,
  inputs: OperationInputs<{ contentHash: string; name: string }>,
): string {
  const known: Operation<OperationSettings[Kind]> = OPERATIONS[operation];
  const { version } = known;
  const parsed = parseSettings(operation, settings);
  const named = known.goesByName(parsed) ? inputs : inputList(inputs).map(({ contentHash }) => contentHash);
  const { receivers, sources, cage } = inputs;
  const shape = [receivers.length, sources.length, cage !== undefined];
  const text = canonicalJson({ operation, version, settings: parsed, inputs: named, shape });
  return createHash('sha256').update(text).digest('hex');
}

/** The key each ticket's run would have now; tickets with a missing input have none. */
export async function currentKeys(
  database: DataSource,
  tickets: readonly Pick<TicketRow, 'id' | 'operation' | 'settings' | 'inputs'>[],
): Promise<Map<string, string>> {
  const ids = [...new Set(tickets.flatMap(({ inputs }) => inputList(inputs)))];
  const revisions = await latestRevisions(database, ids);
  const rows = await database.getRepository(assets).findBy({ id: In(ids) });
  const names = new Map(rows.map(({ id, name }) => [id, name]));
  const keys = new Map<string, string>();
  for (const { id, operation, settings, inputs } of tickets) {
    if (inputs.sources.length === 0 || inputList(inputs).some((input) => !revisions.has(input))) continue;
    const known = await eachInput(inputs, (input) => ({
      contentHash: revisions.get(input)!.contentHash,
      name: names.get(input) ?? '',
    }));
    keys.set(id, runKey(operation, settings, known));
  }
  return keys;
}
