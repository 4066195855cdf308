import type { DataSource, EntityManager } from 'typeorm';
import { ZographosError } from '@zographos/core';
import type { MeshAsset, Run } from '@zographos/contracts';
import { bakeSettings, DEFAULT_BAKE, mergeOperation, type MergeSettings } from '@zographos/operations';
import { runs, type MergeRunRow } from '../data/entities.ts';
import { notFound, readProject, readRun } from '../data/readProject.ts';
import { announce } from '../events/channel.ts';
import { addMadeMesh, type MadeMesh } from '../meshes/meshRevisions.ts';
import { runKey } from './runKey.ts';
import { insertTicket } from './tickets.ts';

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
  const { assets } = await readProject(database, projectId);
  const meshes = ids.map(
    (id) => assets.find((asset): asset is MeshAsset => asset.kind === 'mesh' && asset.id === id) ?? notFound('mesh'),
  );
  const bare = settings.layout ? undefined : meshes.find(({ inspection }) => !inspection.uvSets[settings.uvSet]);
  if (bare) {
    throw new ZographosError(
      'input/no-uvs',
      `“${bare.name}” has no UV set ${settings.uvSet + 1} that could be kept. Let the meshes get a new layout.`,
    );
  }
  const receivers = meshes.map(({ id: assetId, name, fileName: file, contentHash }) => ({
    assetId,
    name,
    file,
    contentHash,
  }));
  const inputs = { receivers, sources: [] };
  const names = { receivers: meshes.map(({ name }) => name), sources: [] };
  const sentence = mergeOperation.sentence(settings, names, meshes[0]!.unit).map(({ text }) => text);
  const { id } = await database.getRepository(runs).save({
    ...{ projectId, ticketId: null, operation: 'merge' as const, settings, inputs },
    key: runKey('merge', settings, inputs),
    sentence: sentence.join(''),
    state: 'queued' as const,
  });
  await announce(database, { type: 'changed', projectId });
  await announce(database, { type: 'queued' });
  return readRun(database, id);
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
