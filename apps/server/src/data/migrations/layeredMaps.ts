import type { MigrationInterface, QueryRunner } from 'typeorm';

/**
 * A place of an image set may hold two maps: the one that was baked or brought in, and the one that layers have made of
 * it. A run may be followed by that of a ticket which waits for it. Strokes that were painted stay with their project.
 */
export class LayeredMaps1700000000009 implements MigrationInterface {
  name = 'LayeredMaps1700000000009';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query('ALTER TABLE map ADD COLUMN layered boolean NOT NULL DEFAULT false');
    await queries.query('ALTER TABLE map DROP CONSTRAINT uq_map_place');
    await queries.query('ALTER TABLE map ADD CONSTRAINT uq_map_place UNIQUE ("imageSetId", kind, tile, layered)');
    await queries.query('ALTER TABLE run ADD COLUMN "followedBy" uuid');
    await queries.query(
      'ALTER TABLE run ADD CONSTRAINT fk_run_followed_by FOREIGN KEY ("followedBy") REFERENCES ticket(id) ON DELETE SET NULL',
    );
    await queries.query(
      'CREATE TABLE stroke ("projectId" uuid NOT NULL, hash text NOT NULL, "createdAt" timestamptz NOT NULL DEFAULT now(), CONSTRAINT pk_stroke PRIMARY KEY ("projectId", hash), CONSTRAINT fk_stroke_project FOREIGN KEY ("projectId") REFERENCES project(id) ON DELETE CASCADE)',
    );
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query('DROP TABLE stroke');
    await queries.query('ALTER TABLE run DROP COLUMN "followedBy"');
    await queries.query('DELETE FROM map WHERE layered');
    await queries.query('ALTER TABLE map DROP CONSTRAINT uq_map_place');
    await queries.query('ALTER TABLE map ADD CONSTRAINT uq_map_place UNIQUE ("imageSetId", kind, tile)');
    await queries.query('ALTER TABLE map DROP COLUMN layered');
  }
}
