import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Layouts and sheets are made by runs without a ticket; revisions say what made them; image sets keep their tiles. */
export class Layouts1700000000003 implements MigrationInterface {
  name = 'Layouts1700000000003';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query(`ALTER TABLE "run" ALTER COLUMN "ticketId" DROP NOT NULL`);
    await queries.query(`ALTER TABLE "map" ALTER COLUMN "ticketId" DROP NOT NULL`);
    await queries.query(`ALTER TABLE "run" ADD "note" text`);
    await queries.query(`ALTER TABLE "run" ADD "finishRequested" boolean NOT NULL DEFAULT false`);
    await queries.query(`ALTER TABLE "asset_revision" ADD "made" text NOT NULL DEFAULT 'Brought in'`);
    await queries.query(`ALTER TABLE "asset_revision" ALTER COLUMN "made" DROP DEFAULT`);
    await queries.query(`ALTER TABLE "image_set" ADD "tiles" jsonb NOT NULL DEFAULT '[]'`);
    await queries.query(`ALTER TABLE "image_set" ADD "namePattern" text NOT NULL DEFAULT '{set}_{map}.{tile}'`);
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query(`DELETE FROM "run" WHERE "ticketId" IS NULL`);
    await queries.query(`ALTER TABLE "run" ALTER COLUMN "ticketId" SET NOT NULL`);
    await queries.query(`DELETE FROM "map" WHERE "ticketId" IS NULL`);
    await queries.query(`ALTER TABLE "map" ALTER COLUMN "ticketId" SET NOT NULL`);
    await queries.query(`ALTER TABLE "run" DROP COLUMN "note"`);
    await queries.query(`ALTER TABLE "run" DROP COLUMN "finishRequested"`);
    await queries.query(`ALTER TABLE "asset_revision" DROP COLUMN "made"`);
    await queries.query(`ALTER TABLE "image_set" DROP COLUMN "tiles"`);
    await queries.query(`ALTER TABLE "image_set" DROP COLUMN "namePattern"`);
  }
}
