import type { MigrationInterface, QueryRunner } from 'typeorm';

/**
 * Any number of image sets may show a mesh in light; of those that it wears there is one for each layout still. A run may
 * be followed by those of several tickets, one after the other.
 */
export class LitSets1700000000012 implements MigrationInterface {
  name = 'LitSets1700000000012';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query('ALTER TABLE image_set ADD COLUMN lit boolean NOT NULL DEFAULT false');
    await queries.query('ALTER TABLE image_set DROP CONSTRAINT uq_image_set_layout');
    await queries.query('ALTER TABLE run DROP CONSTRAINT fk_run_followed_by');
    await queries.query(
      `ALTER TABLE run ALTER COLUMN "followedBy" TYPE uuid[] USING CASE WHEN "followedBy" IS NULL THEN '{}'::uuid[] ELSE ARRAY["followedBy"] END`,
    );
    await queries.query(`ALTER TABLE run ALTER COLUMN "followedBy" SET DEFAULT '{}'`);
    await queries.query('ALTER TABLE run ALTER COLUMN "followedBy" SET NOT NULL');
    await queries.query('CREATE UNIQUE INDEX uq_image_set_layout ON image_set ("receiverId", "uvSet") WHERE NOT lit');
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query('ALTER TABLE run ALTER COLUMN "followedBy" DROP NOT NULL');
    await queries.query('ALTER TABLE run ALTER COLUMN "followedBy" DROP DEFAULT');
    await queries.query('ALTER TABLE run ALTER COLUMN "followedBy" TYPE uuid USING "followedBy"[1]');
    await queries.query(
      'ALTER TABLE run ADD CONSTRAINT fk_run_followed_by FOREIGN KEY ("followedBy") REFERENCES ticket(id) ON DELETE SET NULL',
    );
    await queries.query('DELETE FROM image_set WHERE lit');
    await queries.query('DROP INDEX uq_image_set_layout');
    await queries.query('ALTER TABLE image_set ADD CONSTRAINT uq_image_set_layout UNIQUE ("receiverId", "uvSet")');
    await queries.query('ALTER TABLE image_set DROP COLUMN lit');
  }
}
