import type { DataSource } from 'typeorm';
import type { Run } from '@zographos/contracts';
import { planDelivery, type DeliverSettings } from '@zographos/operations';
import { factsOf, readRunSets } from '../data/runSets.ts';
import { readProjectSummary } from '../data/readProject.ts';
import { enqueueOnce, meshesOf } from './enqueueOnce.ts';

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
  const sets = await readRunSets(database, projectId, settings.sets);
  planDelivery(settings.profile, name, sets.map(factsOf));
  const meshIds = settings.profile.mesh === 'none' ? [] : [...new Set(sets.flatMap((set) => set.meshIds))];
  return enqueueOnce(database, projectId, 'deliver', settings, await meshesOf(database, projectId, meshIds));
}
