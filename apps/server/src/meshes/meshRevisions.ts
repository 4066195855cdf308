import type { DataSource, EntityManager } from 'typeorm';
import { ZographosError } from '@zographos/core/errors';
import type { Finding, MeshInspection } from '@zographos/core/inspection';
import type { Asset, MeshRevision } from '@zographos/contracts';
import { parseSettings } from '@zographos/operations';
import { assetRevisions, assets, imageSets, tickets, type AssetRevisionRow, type AssetRow } from '../data/entities.ts';
import { latestRevisions } from '../data/latestRevisions.ts';
import { notFound, readAsset } from '../data/readProject.ts';
import { announce } from '../events/channel.ts';

/** States of meshes: each change adds one, none is ever changed. */

export type NewRevision = Omit<AssetRevisionRow, 'id' | 'assetId' | 'number' | 'createdAt'>;

export async function insertRevision(
  manager: EntityManager,
  assetId: string,
  after: number,
  revision: NewRevision,
): Promise<void> {
  const { inspection, ...columns } = revision;
  await manager
    .getRepository(assetRevisions)
    .insert({ assetId, number: after + 1, ...columns, inspection: inspection as never });
}

/** What was found in the file itself, and holds for what is made of it. */
const OF_THE_FILE: Finding['kind'][] = ['not-finite', 'missing-normals', 'missing-pictures'];

/** A mesh as the next revision is made of it. */
export interface MadeMesh {
  contentHash: string;
  inspection: MeshInspection;
}

/**
 * Adds a mesh that was made of another; it is the object of no file, so that files brought in again leave it as it is.
 * @param like the mesh it was made of, which gives its unit and its file
 */
export async function addMadeMesh(
  manager: EntityManager,
  like: string,
  name: string,
  { contentHash, inspection }: MadeMesh,
  made: string,
): Promise<string> {
  const { projectId, unit } = await manager.getRepository(assets).findOneByOrFail({ id: like });
  const latest = (await latestRevisions(manager, [like])).get(like);
  if (!latest) return notFound('mesh');
  const row = { projectId, kind: 'mesh' as const, name, unit, imageKind: null, colorSpace: null };
  const { id } = await manager.getRepository(assets).save(row);
  const { fileName, originalHash } = latest;
  const source = { fileName, originalHash, objectName: `${name} (${id.slice(0, 8)})`, thumbnailHash: null };
  await insertRevision(manager, id, 0, { ...source, contentHash, inspection, made });
  return id;
}

/**
 * Adds the next revision of a mesh; tickets and image sets stay with the UV sets they were on.
 * @param from the content that the change was made on
 * @throws conflict/changed-elsewhere when that is not the newest any more, missing/not-found
 */
export async function addMeshRevision(
  manager: EntityManager,
  assetId: string,
  from: string,
  { contentHash, inspection }: MadeMesh,
  made: string,
): Promise<void> {
  const row = await manager
    .getRepository(assets)
    .findOne({ where: { id: assetId, kind: 'mesh' }, lock: { mode: 'pessimistic_write' } });
  const latest = row && (await latestRevisions(manager, [assetId])).get(assetId);
  if (!latest || !('triangles' in latest.inspection)) return notFound('mesh');
  if (latest.contentHash !== from) {
    throw new ZographosError(
      'conflict/changed-elsewhere',
      `“${row.name}” was changed in another window. The current state is shown; repeat your change if you still want it.`,
    );
  }
  if (contentHash === from) return;
  const { fileName, objectName, originalHash, thumbnailHash } = latest;
  const ofTheFile = latest.inspection.findings.filter(({ kind }) => OF_THE_FILE.includes(kind));
  const findings = [...ofTheFile, ...inspection.findings.filter(({ kind }) => !OF_THE_FILE.includes(kind))];
  await insertRevision(manager, assetId, latest.number, {
    ...{ fileName, objectName, originalHash, thumbnailHash, contentHash, made },
    inspection: { ...inspection, findings },
  });
  await followUvSets(manager, row, latest.inspection.uvSets, inspection.uvSets);
}

/** Keeps tickets and image sets of a receiver on the UV set of the same name, where its number is another now. */
async function followUvSets(
  manager: EntityManager,
  { id, projectId }: AssetRow,
  before: readonly string[],
  now: readonly string[],
): Promise<void> {
  const placeOf = (set: number): number => {
    const place = now.indexOf(before[set] ?? '');
    return place >= 0 ? place : set;
  };
  if (before.every((_, set) => placeOf(set) === set)) return;
  for (const ticket of await manager.getRepository(tickets).findBy({ projectId })) {
    if ((ticket.operation !== 'bake' && ticket.operation !== 'light') || ticket.inputs.receivers[0] !== id) continue;
    const settings = parseSettings(ticket.operation, ticket.settings);
    if (placeOf(settings.uvSet) === settings.uvSet) continue;
    Object.assign(ticket, { settings: { ...settings, uvSet: placeOf(settings.uvSet) } });
    await manager.getRepository(tickets).save(ticket);
  }
  const sets = await manager.getRepository(imageSets).findBy({ receiverId: id });
  // By way of numbers that none has, for two may change places.
  for (const step of [(set: number) => 1000 + placeOf(set), placeOf]) {
    for (const { id: setId, uvSet } of sets) {
      await manager.getRepository(imageSets).update({ id: setId }, { uvSet: step(uvSet) });
    }
  }
}

/** @throws missing/not-found */
export async function readRevisions(database: DataSource, assetId: string): Promise<MeshRevision[]> {
  const rows = await database.getRepository(assetRevisions).find({ where: { assetId }, order: { number: 'DESC' } });
  if (rows.length === 0) return notFound('mesh');
  return rows.map(({ number, contentHash, made, inspection, createdAt }) => ({
    ...{ number, contentHash, made },
    uvSets: 'uvSets' in inspection ? inspection.uvSets : [],
    createdAt: createdAt.toISOString(),
  }));
}

/**
 * Makes the next revision of a mesh the same as an earlier one.
 * @throws conflict/changed-elsewhere, missing/not-found
 */
export async function restoreRevision(database: DataSource, assetId: string, from: string, to: string): Promise<Asset> {
  const [earlier] = await database
    .getRepository(assetRevisions)
    .find({ where: { assetId, contentHash: to }, order: { number: 'DESC' }, take: 1 });
  if (!earlier || !('triangles' in earlier.inspection)) return notFound('revision');
  const { contentHash, inspection, number } = earlier;
  await database.transaction((manager) =>
    addMeshRevision(manager, assetId, from, { contentHash, inspection }, `As revision ${number} was`),
  );
  const { projectId } = await database.getRepository(assets).findOneByOrFail({ id: assetId });
  await announce(database, { type: 'changed', projectId });
  return readAsset(database, assetId);
}
