import type { EntityManager } from 'typeorm';
import { tickets, type TicketRow } from '../data/entities.ts';
import { canonicalJson } from './canonicalJson.ts';
import { resolvedLight } from './litInputs.ts';
import { resolvedStack } from './stackInputs.ts';

/**
 * Fills in what a ticket is made of beside what the artist has chosen, as the project has it now: the maps that layers go
 * by, or that meshes in light wear.
 * @returns null for tickets that name all they are made of
 */
export async function resolvedInputs(
  manager: EntityManager,
  row: TicketRow,
): Promise<Pick<TicketRow, 'settings' | 'inputs'> | null> {
  if (row.operation === 'layers') return resolvedStack(manager, row);
  if (row.operation === 'light') return resolvedLight(manager, row);
  return null;
}

/** Keeps with a ticket what it is made of by now, where that is another. */
export async function renewInputs(manager: EntityManager, row: TicketRow): Promise<void> {
  const resolved = await resolvedInputs(manager, row);
  if (!resolved || canonicalJson(resolved) === canonicalJson({ settings: row.settings, inputs: row.inputs })) return;
  // Settings belong to the operation of their ticket, which merging cannot show.
  await manager.getRepository(tickets).save({ ...row, ...resolved } as TicketRow);
}

/** Brings the light tickets of a project up to date once meshes may wear other maps than they did. */
export async function renewLight(manager: EntityManager, projectId: string): Promise<void> {
  for (const row of await manager.getRepository(tickets).findBy({ projectId, operation: 'light' })) {
    await renewInputs(manager, row);
  }
}
