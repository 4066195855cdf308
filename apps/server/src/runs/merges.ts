import type { DataSource, EntityManager } from 'typeorm';
import { ZographosError } from '@zographos/core/errors';
import type { Run } from '@zographos/contracts';
import { bakeSettings, DEFAULT_BAKE, type MergeSettings } from '@zographos/operations';
import type { MergeRunRow } from '../data/entities.ts';
import { addMadeMesh, type MadeMesh } from '../meshes/meshRevisions.ts';
import { enqueueOnce, meshesOf } from './enqueueOnce.ts';
import { insertTicket } from '../tickets/tickets.ts';

/**
 * Queues a merge of the materials of some meshes, which stay.
 * @throws input/no-uvs when the layout that is to be kept is missing, missing/not-found
 */
export async function enqueueMerge(
  database: DataSource,
  projectId: string,
  ids: readonly string[],
  settings: MergeSettings,
): Promise<Run> {
  const meshes = await meshesOf(database, projectId, ids);
  const bare = settings.layout ? undefined : meshes.find(({ inspection }) => !inspection.uvSets[settings.uvSet]);
  if (bare) {
    throw new ZographosError(
      'input/no-uvs',
      `“${bare.name}” has no UV set ${settings.uvSet + 1} that could be kept. Let the meshes get a new layout.`,
    );
  }
  return enqueueOnce(database, projectId, 'merge', settings, meshes);
}

/** Rays need some reach, though none is cast where triangles are shared. */
const ANY_REACH = { out: 1e-3, in: 1e-3 };

/**
 * Puts a merge in place: the merged meshes, and the ticket that bakes their maps from the meshes as they were.
 * @returns the ticket
 */
export async function placeMerge(
  manager: EntityManager,
  { projectId, inputs, settings, sentence }: Pick<MergeRunRow, 'projectId' | 'inputs' | 'settings' | 'sentence'>,
  meshes: readonly (MadeMesh & { name: string })[],
): Promise<string> {
  const like = inputs.receivers[0]!.assetId;
  const receivers: string[] = [];
  for (const { name, ...mesh } of meshes) {
    const title = meshes.length > 1 ? `${name}, ${settings.name}` : settings.name;
    receivers.push(await addMadeMesh(manager, like, title, mesh, sentence));
  }
  const { maps, size, padding, samples } = settings;
  const ticket = await insertTicket(manager, projectId, {
    name: `${settings.name}, merged`,
    operation: 'bake',
    settings: bakeSettings.parse({
      ...DEFAULT_BAKE,
      ...{ maps, size, padding, samples, reach: ANY_REACH },
      // Each triangle sees its own, whatever stands in the same place.
      aim: 'shared',
      prove: false,
    }),
    inputs: { receivers, sources: inputs.receivers.map(({ assetId }) => assetId) },
  });
  return ticket;
}
