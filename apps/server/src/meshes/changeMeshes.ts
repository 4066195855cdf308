import { ZographosError } from '@zographos/core/errors';
import type { SplitBy } from '@zographos/core/uv';
import { isBakeTicket, type Asset, type MeshAsset } from '@zographos/contracts';
import { changeSentence, type MeshChange } from '@zographos/operations';
import { notFound, readAsset, readProject, readProjectSummary } from '../data/readProject.ts';
import { announce } from '../events/channel.ts';
import type { Services } from '../services.ts';
import { meshAsset } from './meshAsset.ts';
import { addMadeMesh, addMeshRevision } from './meshRevisions.ts';
import { meshesFrom } from './meshDesk.ts';
import { storeMeshes, type ReadyMesh } from './readyMesh.ts';

/**
 * Changes a mesh on a thread; the result is its next revision.
 * @throws conflict/changed-elsewhere, conflict/in-use when a UV set is to go that a ticket uses, input/no-uvs,
 * input/bad-request, missing/not-found
 */
export async function changeMeshAsset(
  services: Services,
  assetId: string,
  from: string,
  change: MeshChange,
): Promise<Asset> {
  const { database, blobs } = services;
  const { asset, projectId } = await meshAsset(database, assetId);
  if (change.what === 'remove-uv-set') await requireUnused(services, projectId, asset, change.uvSet);
  const [made] = await meshesFrom({ what: 'change', mesh: await blobs.readBytes(from), change });
  const { hash: contentHash } = await blobs.writeBytes(made!.packed);
  const sentence = changeSentence(change, asset.inspection.uvSets);
  await database.transaction((manager) =>
    addMeshRevision(manager, assetId, from, { contentHash, inspection: made!.inspection }, sentence),
  );
  await announce(database, { type: 'changed', projectId });
  return readAsset(database, assetId);
}

/** @throws conflict/in-use naming the tickets that bake onto the UV set */
async function requireUnused(
  { database }: Services,
  projectId: string,
  { id, inspection }: MeshAsset,
  uvSet: number,
): Promise<void> {
  const { tickets } = await readProject(database, projectId);
  const users = tickets
    .filter(isBakeTicket)
    .filter(({ inputs, settings }) => inputs.receivers.includes(id) && settings.uvSet === uvSet);
  if (users.length === 0) return;
  throw new ZographosError(
    'conflict/in-use',
    `“${inspection.uvSets[uvSet]}” is used by ${users.map(({ name }) => `“${name}”`).join(', ')}. Choose another UV set there first.`,
  );
}

/**
 * Makes a mesh of each piece of another, which stays.
 * @throws input/bad-request when there is but one piece, conflict/changed-elsewhere, missing/not-found
 */
export async function splitMeshAsset(
  services: Services,
  assetId: string,
  from: string,
  how: SplitBy,
): Promise<Asset[]> {
  const { asset, projectId } = await meshAsset(services.database, assetId);
  if (asset.contentHash !== from) {
    throw new ZographosError(
      'conflict/changed-elsewhere',
      `“${asset.name}” was changed in another window. The current state is shown; split it again if you still want it.`,
    );
  }
  const pieces = await meshesFrom({ what: 'split', mesh: await services.blobs.readBytes(from), name: asset.name, how });
  if (pieces.length < 2) {
    throw new ZographosError('input/bad-request', `“${asset.name}” consists of a single part. Split it another way.`);
  }
  if (pieces.length > MOST_PIECES) {
    throw new ZographosError(
      'limit/pieces',
      `“${asset.name}” would fall into ${pieces.length} meshes, more than the ${MOST_PIECES} that can be kept apart. Split it by something coarser.`,
    );
  }
  return addMeshes(services, projectId, assetId, pieces, `Split off ${asset.name}`);
}

const MOST_PIECES = 500;

/** Makes one mesh of several, which stay. @throws missing/not-found */
export async function joinMeshAssets(
  services: Services,
  projectId: string,
  name: string,
  ids: readonly string[],
): Promise<Asset> {
  await readProjectSummary(services.database, projectId);
  const parts = await Promise.all(ids.map((id) => meshAsset(services.database, id)));
  if (parts.some((part) => part.projectId !== projectId)) return notFound('mesh');
  const meshes = await Promise.all(parts.map(({ asset }) => services.blobs.readBytes(asset.contentHash)));
  const joined = await meshesFrom({ what: 'join', meshes, name });
  const names = parts.map((part) => part.asset.name).join(', ');
  return (await addMeshes(services, projectId, ids[0]!, joined, `Joined from ${names}`))[0]!;
}

async function addMeshes(
  { database, blobs }: Services,
  projectId: string,
  like: string,
  meshes: readonly ReadyMesh[],
  made: string,
): Promise<Asset[]> {
  const stored = await storeMeshes(blobs, meshes);
  const ids = await database.transaction(async (manager) => {
    const added: string[] = [];
    for (const { name, ...mesh } of stored) added.push(await addMadeMesh(manager, like, name, mesh, made));
    return added;
  });
  await announce(database, { type: 'changed', projectId });
  return Promise.all(ids.map((id) => readAsset(database, id)));
}
