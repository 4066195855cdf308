import { createHash } from 'node:crypto';
import { In, type DataSource } from 'typeorm';
import type { MapKind } from '@zographos/core/image';
import type { AtlasSettings } from '@zographos/operations';
import { imageSets, maps, runs, tickets, type MapRevisionRow } from '../data/entities.ts';
import { latestMapRevisions, latestRevisions } from '../data/latestRevisions.ts';
import { mapsInEffect } from '../data/mapsInEffect.ts';
import { wearersOf } from '../data/wearers.ts';
import { canonicalJson } from '../tickets/canonicalJson.ts';

/** What an atlas is made of: the newest map of each kind of each of its sets, and the meshes that lie on them. */
export interface AtlasInputs {
  sets: { name: string; uvSet: number; meshIds: string[]; maps: Map<MapKind, MapRevisionRow>; tiles: number[] }[];
  /** Stands for all of it. */
  key: string;
}

/** The sets in the order of the settings; those that are gone are left out. */
export async function readAtlasInputs(database: DataSource, settings: AtlasSettings): Promise<AtlasInputs> {
  const ids = settings.sets.map(({ imageSet }) => imageSet);
  const rows = await database.getRepository(imageSets).findBy({ id: In(ids) });
  const places = await database.getRepository(maps).findBy({ imageSetId: In(ids) });
  const made = await latestMapRevisions(
    database,
    places.map(({ id }) => id),
  );
  const users = await database.getRepository(tickets).findBy({ imageSetId: In(ids) });
  const sets = ids.flatMap((id) => {
    const row = rows.find((each) => each.id === id);
    if (!row) return [];
    const own = mapsInEffect(
      places.filter(({ imageSetId }) => imageSetId === id),
      made,
    );
    const newest = own.flatMap(({ id: mapId, kind }): [MapKind, MapRevisionRow][] => {
      const last = made.get(mapId);
      return last ? [[kind, last]] : [];
    });
    return {
      name: row.name,
      uvSet: row.uvSet,
      meshIds: wearersOf(row, users),
      maps: new Map(newest),
      tiles: [...new Set(own.map(({ tile }) => tile))],
    };
  });
  const meshes = await latestRevisions(
    database,
    sets.flatMap(({ meshIds }) => meshIds),
  );
  const known = sets.map(({ meshIds, uvSet, maps: newest }) => [
    uvSet,
    meshIds.map((id) => meshes.get(id)?.contentHash),
    Object.fromEntries([...newest].map(([kind, { key, dataHash }]) => [kind, [key, dataHash]])),
  ]);
  const key = createHash('sha256')
    .update(canonicalJson(['sheet 1', settings, known]))
    .digest('hex');
  return { sets, key };
}

/** The runs of atlases whose inputs are others by now. @param made the newest revisions of maps of atlases */
export async function outdatedAtlases(
  database: DataSource,
  made: readonly (MapRevisionRow | undefined)[],
): Promise<Set<string>> {
  const ids = [...new Set(made.flatMap((revision) => (revision ? [revision.runId] : [])))];
  const outdated = new Set<string>();
  for (const row of await database.getRepository(runs).findBy({ id: In(ids) })) {
    if (row.operation !== 'atlas') continue;
    if ((await readAtlasInputs(database, row.settings)).key !== row.key) outdated.add(row.id);
  }
  return outdated;
}
