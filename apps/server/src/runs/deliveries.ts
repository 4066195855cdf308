import { In, type DataSource } from 'typeorm';
import { ZographosError } from '@zographos/core/errors';
import type { MapKind } from '@zographos/core/image';
import type { Run } from '@zographos/contracts';
import { planDelivery, type DeliverSettings, type SetFacts } from '@zographos/operations';
import { imageSets, maps, runs, tickets, type MapRevisionRow } from '../data/entities.ts';
import { latestMapRevisions } from '../data/latestRevisions.ts';
import { readProjectSummary } from '../data/readProject.ts';
import { wearersOf } from '../data/wearers.ts';
import { enqueueOnce, meshesOf } from './enqueueOnce.ts';

/** A set as a delivery takes it: the newest of its maps, what made them, and the meshes that wear them. */
export interface SetToDeliver {
  id: string;
  name: string;
  tileWidth: number | null;
  meshIds: string[];
  maps: { kind: MapKind; tile: number; revision: MapRevisionRow; madeBy: string | null }[];
}

/** @throws missing/not-found when a set is not there any more */
export async function setsToDeliver(
  database: DataSource,
  projectId: string,
  ids: readonly string[],
): Promise<SetToDeliver[]> {
  const rows = await database.getRepository(imageSets).findBy({ id: In([...ids]), projectId });
  return Promise.all(
    ids.map(async (id) => {
      const row = rows.find((each) => each.id === id);
      if (!row) {
        throw new ZographosError(
          'missing/not-found',
          'An image set of this delivery is not here any more. Choose the sets again.',
        );
      }
      const users = await database.getRepository(tickets).findBy({ imageSetId: id });
      return {
        ...{ id, name: row.name, tileWidth: row.tileWidth },
        meshIds: wearersOf(row, users),
        maps: await newestMaps(database, id),
      };
    }),
  );
}

async function newestMaps(database: DataSource, imageSetId: string): Promise<SetToDeliver['maps']> {
  const rows = await database.getRepository(maps).findBy({ imageSetId });
  const made = await latestMapRevisions(
    database,
    rows.map(({ id }) => id),
  );
  const makers = await database.getRepository(runs).findBy({ id: In([...made.values()].map(({ runId }) => runId)) });
  return rows.flatMap(({ id, kind, tile }) => {
    const revision = made.get(id);
    if (!revision) return [];
    return [{ kind, tile, revision, madeBy: makers.find((run) => run.id === revision.runId)?.sentence ?? null }];
  });
}

/** A set as plans see it. */
export const factsOf = ({ name, meshIds, maps: newest }: SetToDeliver): SetFacts => ({
  name,
  hasMesh: meshIds.length > 0,
  maps: newest.map(({ kind, tile, revision: { number, directory } }) => {
    const { channels, levels, range = [0, 1], colorSpace = 'linear' } = directory;
    const { width, height } = levels[0]!;
    return { kind, tile, revision: number, width, height, channels, colorSpace, range };
  }),
});

/**
 * Queues a delivery; what could not be done is refused at once.
 * @throws input/bad-settings for names that meet, or maps that are not there; missing/not-found
 */
export async function enqueueDelivery(
  database: DataSource,
  projectId: string,
  settings: DeliverSettings,
): Promise<Run> {
  const { name } = await readProjectSummary(database, projectId);
  const sets = await setsToDeliver(database, projectId, settings.sets);
  planDelivery(settings.profile, name, sets.map(factsOf));
  const meshIds = settings.profile.mesh === 'none' ? [] : [...new Set(sets.flatMap((set) => set.meshIds))];
  return enqueueOnce(database, projectId, 'deliver', settings, await meshesOf(database, projectId, meshIds));
}
