import zlib from 'node:zlib';
import { promisify } from 'node:util';
import { In, type DataSource } from 'typeorm';
import type { Image, MapKind } from '@zographos/core/image';
import type { TileRecord } from '@zographos/operations/bake';
import type { BlobStore } from '../blobs/blobStore.ts';
import { mapRevisions, maps, type BakeRunRow, type MapRevisionRow } from '../data/entities.ts';
import { latestMapRevisions } from '../data/latestRevisions.ts';
import { loadMapImage, loadMapStates } from '../data/mapImages.ts';

const deflate = promisify<zlib.InputType, Buffer>(zlib.deflate);
const inflate = promisify<zlib.InputType, Buffer>(zlib.inflate);

/** An earlier bake as it travels to the operation. */
export interface PackedEarlierBake {
  tiles: TileRecord[];
  maps: { kind: MapKind; tile: number; image: Image; states: Uint8Array }[];
}

export const packRecords = async (records: TileRecord[]): Promise<Buffer | null> =>
  records.length > 0 ? deflate(JSON.stringify(records)) : null;

/** The newest finished bake of a run's ticket that can be taken over in part, with its maps. */
export async function earlierBake(
  database: DataSource,
  blobs: BlobStore,
  { ticketId }: Pick<BakeRunRow, 'ticketId'>,
): Promise<PackedEarlierBake | null> {
  const [last] = await database.query<{ id: string; records: Buffer }[]>(
    `SELECT id, records FROM run WHERE "ticketId" = $1 AND state = 'done' AND records IS NOT NULL
       ORDER BY "finishedAt" DESC LIMIT 1`,
    [ticketId],
  );
  if (!last) return null;
  const revisions = await database.getRepository(mapRevisions).findBy({ runId: last.id });
  const records = JSON.parse((await inflate(last.records)).toString()) as TileRecord[];
  return { tiles: records, maps: await loadMaps(database, blobs, revisions) };
}

/** The maps of a tile as they are now, for baking but a part of it anew. */
export async function mapsOfTile(
  database: DataSource,
  blobs: BlobStore,
  { ticketId, settings }: Pick<BakeRunRow, 'ticketId' | 'settings'>,
  tile: number,
): Promise<PackedEarlierBake> {
  const places = await database.getRepository(maps).findBy({ ticketId, tile, kind: In(settings.maps) });
  const latest = await latestMapRevisions(
    database,
    places.map(({ id }) => id),
  );
  return { tiles: [], maps: await loadMaps(database, blobs, [...latest.values()]) };
}

async function loadMaps(
  database: DataSource,
  blobs: BlobStore,
  revisions: MapRevisionRow[],
): Promise<PackedEarlierBake['maps']> {
  const places = await database.getRepository(maps).findBy({ id: In(revisions.map(({ mapId }) => mapId)) });
  const stored: PackedEarlierBake['maps'] = [];
  for (const revision of revisions) {
    const { kind, tile } = places.find(({ id }) => id === revision.mapId)!;
    const [image, states] = [await loadMapImage(blobs, revision), await loadMapStates(blobs, revision)];
    stored.push({ kind, tile, image, states });
  }
  return stored;
}
