import type { MigrationInterface, QueryRunner } from 'typeorm';

/** The library of coatings: layers with all that they are made of, as one file each. */
export class Coatings1700000000010 implements MigrationInterface {
  name = 'Coatings1700000000010';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query(
      'CREATE TABLE coating (id uuid NOT NULL DEFAULT gen_random_uuid(), name text NOT NULL, layers integer NOT NULL, hash text NOT NULL, "createdAt" timestamptz NOT NULL DEFAULT now(), CONSTRAINT pk_coating PRIMARY KEY (id))',
    );
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query('DROP TABLE coating');
  }
}
