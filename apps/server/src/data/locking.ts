import type { EntityManager, EntitySchema, FindOptionsWhere } from 'typeorm';
import { ZographosError } from '@zographos/core/errors';
import { notFound } from './readProject.ts';

/**
 * Reads a row for changing, locked until the transaction ends.
 * @throws conflict/changed-elsewhere when it is no longer at the version the change was made on
 */
export async function requireVersion<Row extends { id: string; version: number }>(
  manager: EntityManager,
  entity: EntitySchema<Row>,
  id: string,
  version: number,
  what: string,
): Promise<Row> {
  const row = await manager
    .getRepository(entity)
    .findOne({ where: { id } as FindOptionsWhere<Row>, lock: { mode: 'pessimistic_write' } });
  if (!row) return notFound(what);
  if (row.version === version) return row;
  throw new ZographosError(
    'conflict/changed-elsewhere',
    `This ${what} was changed in another window. The current state is shown; repeat your change if you still want it.`,
  );
}
