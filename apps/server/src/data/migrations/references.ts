import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Images pinned beside the view of the layers of an image set. */
export class References1700000000011 implements MigrationInterface {
  name = 'References1700000000011';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query(`ALTER TABLE "image_set" ADD "references" jsonb NOT NULL DEFAULT '[]'`);
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query('ALTER TABLE "image_set" DROP COLUMN "references"');
  }
}
