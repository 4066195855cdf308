import type { DataSource } from 'typeorm';
import type { MeshAsset, Run } from '@zographos/contracts';
import { operationOf, sentenceText, type OnceKind, type OperationSettings } from '@zographos/operations';
import { runs, type LayoutRunRow } from '../data/entities.ts';
import { notFound, readProject, readRun } from '../data/readProject.ts';
import { announce } from '../events/channel.ts';
import { runKey } from '../tickets/runKey.ts';

/** Meshes of a project, in the order in which they are named. @throws missing/not-found */
export async function meshesOf(database: DataSource, projectId: string, ids: readonly string[]): Promise<MeshAsset[]> {
  const { assets } = await readProject(database, projectId);
  return ids.map(
    (id) => assets.find((asset): asset is MeshAsset => asset.kind === 'mesh' && asset.id === id) ?? notFound('mesh'),
  );
}

/** Queues what is done once with some meshes. @param key of the run, where it stands for more than the meshes */
export async function enqueueOnce<Kind extends OnceKind>(
  database: DataSource,
  projectId: string,
  operation: Kind,
  settings: OperationSettings[Kind],
  meshes: readonly MeshAsset[],
  key?: string,
): Promise<Run> {
  const receivers = meshes.map(({ id: assetId, name, fileName: file, contentHash }) => ({
    ...{ assetId, name, file, contentHash },
  }));
  const inputs = { receivers, sources: [] };
  const names = { receivers: meshes.map(({ name }) => name), sources: [] };
  const sentence = operationOf(operation).sentence(settings, names, meshes[0]?.unit ?? 'units');
  const row = {
    ...{ projectId, ticketId: null, operation, settings, inputs },
    key: key ?? runKey(operation, settings, inputs),
    sentence: sentenceText(sentence),
    state: 'queued',
  };
  // Operation and settings belong together by the type of this function, which the union of rows cannot see.
  const { id } = await database.getRepository(runs).save(row as Partial<LayoutRunRow>);
  await announce(database, { type: 'changed', projectId });
  await announce(database, { type: 'queued' });
  return readRun(database, id);
}
