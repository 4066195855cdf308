import { In, type DataSource, type EntityManager } from 'typeorm';
import { ZographosError } from '@zographos/core/errors';
import type { MeshAsset, Run } from '@zographos/contracts';
import { layoutOperation, type LayoutSettings } from '@zographos/operations';
import { runs, type LayoutRunRow } from '../data/entities.ts';
import { addMeshRevision, type MadeMesh } from '../meshes/meshRevisions.ts';
import { enqueueOnce, meshesOf } from './enqueueOnce.ts';

/**
 * Queues a new layout of meshes of a project. One that is under way for one of them is waited for by nobody: it is
 * refused, for whichever ended second would find another mesh than it was made for.
 * @throws conflict/in-use, limit/memory, missing/not-found
 */
export async function enqueueLayout(
  database: DataSource,
  projectId: string,
  ids: readonly string[],
  settings: LayoutSettings,
  memoryLimitBytes: number,
): Promise<Run> {
  const meshes = await meshesOf(database, projectId, ids);
  requireMemory(meshes, settings, memoryLimitBytes);
  const under = await database
    .getRepository(runs)
    .findBy({ projectId, operation: 'layout', state: In(['queued', 'running']) });
  const busy = meshes.find(({ id }) =>
    under.some(({ inputs }) => inputs.receivers.some(({ assetId }) => assetId === id)),
  );
  if (busy) {
    throw new ZographosError(
      'conflict/in-use',
      `“${busy.name}” is being laid out already. Wait until that is done, or cancel it.`,
    );
  }
  return enqueueOnce(database, projectId, 'layout', settings, meshes);
}

function requireMemory(meshes: readonly MeshAsset[], settings: LayoutSettings, memoryLimitBytes: number): void {
  const receivers = meshes.map(({ name, inspection: { triangles, vertices } }) => ({ name, triangles, vertices }));
  const { memoryBytes } = layoutOperation.estimate(settings, { receivers, sources: [] });
  if (memoryBytes <= memoryLimitBytes) return;
  const mega = (value: number): string => `${Math.round(value / 1e6)} MB`;
  throw new ZographosError(
    'limit/memory',
    `This layout needs about ${mega(memoryBytes)} of memory and may use ${mega(memoryLimitBytes)}. Lay out fewer meshes at a time, or split them.`,
  );
}

/**
 * Puts a layout in place: the next revision of each mesh.
 * @throws conflict/changed-elsewhere when a mesh was changed while it was laid out
 */
export async function placeLayout(
  manager: EntityManager,
  run: Pick<LayoutRunRow, 'inputs' | 'sentence'>,
  meshes: readonly MadeMesh[],
): Promise<void> {
  for (const [i, { assetId, contentHash }] of run.inputs.receivers.entries()) {
    await addMeshRevision(manager, assetId, contentHash, meshes[i]!, run.sentence);
  }
}
