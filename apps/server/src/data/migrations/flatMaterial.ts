import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Image sets without a mesh; delivery profiles; finishes that outlive their project. */
export class FlatMaterial1700000000004 implements MigrationInterface {
  name = 'FlatMaterial1700000000004';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query(`ALTER TABLE "image_set" ALTER COLUMN "receiverId" DROP NOT NULL`);
    await queries.query(`ALTER TABLE "image_set" ADD "tileWidth" double precision`);
    await queries.query(
      `CREATE TABLE "delivery_profile" ("id" uuid NOT NULL DEFAULT gen_random_uuid(), "projectId" uuid NOT NULL, "settings" jsonb NOT NULL, "version" integer NOT NULL, "createdAt" TIMESTAMP WITH TIME ZONE NOT NULL DEFAULT now(), CONSTRAINT "pk_delivery_profile" PRIMARY KEY ("id"), CONSTRAINT "fk_delivery_profile_project" FOREIGN KEY ("projectId") REFERENCES "project"("id") ON DELETE CASCADE ON UPDATE NO ACTION)`,
    );
    await queries.query(
      `CREATE TABLE "finish" ("id" uuid NOT NULL DEFAULT gen_random_uuid(), "name" text NOT NULL, "tags" jsonb NOT NULL, "tileWidth" double precision, "maps" jsonb NOT NULL, "createdAt" TIMESTAMP WITH TIME ZONE NOT NULL DEFAULT now(), CONSTRAINT "pk_finish" PRIMARY KEY ("id"))`,
    );
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query(`DROP TABLE "finish"`);
    await queries.query(`DROP TABLE "delivery_profile"`);
    await queries.query(`DELETE FROM "image_set" WHERE "receiverId" IS NULL`);
    await queries.query(`ALTER TABLE "image_set" DROP COLUMN "tileWidth"`);
    await queries.query(`ALTER TABLE "image_set" ALTER COLUMN "receiverId" SET NOT NULL`);
  }
}
