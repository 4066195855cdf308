import { In, type DataSource, type EntityManager } from 'typeorm';
import { assetRevisions, mapRevisions, type AssetRevisionRow, type MapRevisionRow } from './entities.ts';

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

/** The newest revision of each map, by its id; maps that were never made have none. */
export async function latestMapRevisions(
  database: DataSource | EntityManager,
  mapIds: readonly string[],
): Promise<Map<string, MapRevisionRow>> {
  const newest = await database.query<{ id: string }[]>(
    `SELECT DISTINCT ON ("mapId") id FROM map_revision WHERE "mapId" = ANY($1) ORDER BY "mapId", number DESC`,
    [mapIds],
  );
  const rows = await database.getRepository(mapRevisions).findBy({ id: In(newest.map(({ id }) => id)) });
  return new Map(rows.map((row) => [row.mapId, row]));
}
