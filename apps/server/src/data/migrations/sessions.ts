import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Who has given the passphrase. */
export class Sessions1700000000006 implements MigrationInterface {
  name = 'Sessions1700000000006';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query(`CREATE TABLE "session" (
      "hash" text NOT NULL,
      "createdAt" timestamptz NOT NULL DEFAULT now(),
      "usedAt" timestamptz NOT NULL DEFAULT now(),
      CONSTRAINT "pk_session" PRIMARY KEY ("hash")
    )`);
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query(`DROP TABLE "session"`);
  }
}
