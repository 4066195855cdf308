import type { EntityManager } from 'typeorm';
import type { TicketRow } from '../data/entities.ts';
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
