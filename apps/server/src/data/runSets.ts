import { In, type DataSource } from 'typeorm';
import { ZographosError } from '@zographos/core/errors';
import type { MapKind } from '@zographos/core/image';
import type { SetFacts } from '@zographos/operations';
import { imageSets, maps, runs, tickets, type MapRevisionRow } from './entities.ts';
import { latestMapRevisions } from './latestRevisions.ts';
import { mapsInEffect } from './mapsInEffect.ts';
import { wearersOf } from './wearers.ts';

/** An image set as a run takes it: the newest of its maps, what made them, and the meshes that wear them. */
export interface RunSetRow {
  id: string;
  name: string;
  tileWidth: number | null;
  uvSet: number;
  meshIds: string[];
  maps: { kind: MapKind; tile: number; revision: MapRevisionRow; madeBy: string | null }[];
}

/** @throws missing/not-found when a set is not there any more */
export async function readRunSets(
  database: DataSource,
  projectId: string,
  ids: readonly string[],
): Promise<RunSetRow[]> {
  const rows = await database.getRepository(imageSets).findBy({ id: In([...ids]), projectId });
  return Promise.all(
    ids.map(async (id) => {
      const row = rows.find((each) => each.id === id);
      if (!row) {
        throw new ZographosError('missing/not-found', 'One of the image sets no longer exists. Choose the sets again.');
      }
      const users = await database.getRepository(tickets).findBy({ imageSetId: id });
      return {
        ...{ id, name: row.name, tileWidth: row.tileWidth, uvSet: row.uvSet },
        meshIds: wearersOf(row, users),
        maps: await newestMaps(database, id),
      };
    }),
  );
}

async function newestMaps(database: DataSource, imageSetId: string): Promise<RunSetRow['maps']> {
  const rows = await database.getRepository(maps).findBy({ imageSetId });
  const made = await latestMapRevisions(
    database,
    rows.map(({ id }) => id),
  );
  const makers = await database.getRepository(runs).findBy({ id: In([...made.values()].map(({ runId }) => runId)) });
  return mapsInEffect(rows, made).flatMap(({ id, kind, tile }) => {
    const revision = made.get(id);
    if (!revision) return [];
    return [{ kind, tile, revision, madeBy: makers.find((run) => run.id === revision.runId)?.sentence ?? null }];
  });
}

/** A set as plans see it. */
export const factsOf = ({ name, meshIds, maps: newest }: RunSetRow): SetFacts => ({
  name,
  hasMesh: meshIds.length > 0,
  maps: newest.map(({ kind, tile, revision: { number, directory } }) => {
    const { channels, levels, range = [0, 1], colorSpace = 'linear', convention } = directory;
    const { width, height } = levels[0]!;
    return { kind, tile, revision: number, width, height, channels, colorSpace, range, convention };
  }),
});
