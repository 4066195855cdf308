import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Rows of a hexagonal grid always followed from its columns, whatever number stood beside them; now that is said. */
export class FollowingRows1700000000007 implements MigrationInterface {
  name = 'FollowingRows1700000000007';

  async up(queries: QueryRunner): Promise<void> {
    await this.setRows(queries, `'"follow"'`);
  }

  async down(queries: QueryRunner): Promise<void> {
    await this.setRows(queries, `settings->'repeat'->'columns'`);
  }

  private async setRows(queries: QueryRunner, rows: string): Promise<void> {
    for (const table of ['ticket', 'run']) {
      await queries.query(
        `UPDATE "${table}" SET settings = jsonb_set(settings, '{repeat,rows}', ${rows}) WHERE settings->'repeat'->>'grid' = 'hexagonal'`,
      );
    }
  }
}
