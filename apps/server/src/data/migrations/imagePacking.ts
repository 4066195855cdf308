import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Images say what each of their channels holds; those from before hold one map each, until somebody says otherwise. */
export class ImagePacking1700000000008 implements MigrationInterface {
  name = 'ImagePacking1700000000008';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query('ALTER TABLE asset ADD COLUMN packing jsonb');
  }

  async down(queries: QueryRunner): Promise<void> {
    await queries.query('ALTER TABLE asset DROP COLUMN packing');
  }
}
