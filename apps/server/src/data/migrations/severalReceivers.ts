import type { MigrationInterface, QueryRunner } from 'typeorm';

/** A ticket may have several receivers; runs keep what proves them. */
export class SeveralReceivers1700000000002 implements MigrationInterface {
  name = 'SeveralReceivers1700000000002';

  async up(queries: QueryRunner): Promise<void> {
    for (const table of ['ticket', 'run']) {
      await queries.query(
        `UPDATE "${table}" SET "inputs" = ("inputs" - 'receiver') || jsonb_build_object('receivers', jsonb_build_array("inputs"->'receiver')) WHERE "inputs" ? 'receiver'`,
      );
    }
    await queries.query(
      `UPDATE "asset_revision" SET "inspection" = "inspection" || '{"uvTiles": []}' WHERE "inspection" ? 'triangles'`,
    );
    await queries.query(`ALTER TABLE "run" ADD "proof" jsonb`);
    await queries.query(`ALTER TABLE "run" ADD "likeness" bytea`);
    await queries.query(`ALTER TABLE "run" ADD "records" bytea`);
    await queries.query(`ALTER TABLE "run" ADD "region" jsonb`);
  }

  async down(queries: QueryRunner): Promise<void> {
    for (const table of ['ticket', 'run']) {
      await queries.query(
        `UPDATE "${table}" SET "inputs" = ("inputs" - 'receivers') || jsonb_build_object('receiver', "inputs"->'receivers'->0) WHERE "inputs" ? 'receivers'`,
      );
    }
    await queries.query(`ALTER TABLE "run" DROP COLUMN "proof"`);
    await queries.query(`ALTER TABLE "run" DROP COLUMN "likeness"`);
    await queries.query(`ALTER TABLE "run" DROP COLUMN "records"`);
    await queries.query(`ALTER TABLE "run" DROP COLUMN "region"`);
  }
}
