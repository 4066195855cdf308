import { In, type DataSource, type EntityManager } from 'typeorm';
import { assetRevisions, type AssetRevisionRow } from './entities.ts';

/** The newest revision of each asset, by its id. */
export async function latestRevisions(
  database: DataSource | EntityManager,
  assetIds: string[],
): Promise<Map<string, AssetRevisionRow>> {
  const rows = await database
    .getRepository(assetRevisions)
    .find({ where: { assetId: In(assetIds) }, order: { number: 'ASC' } });
  return new Map(rows.map((row) => [row.assetId, row]));
}
