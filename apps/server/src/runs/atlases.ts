import type { DataSource, EntityManager } from 'typeorm';
import { ZographosError } from '@zographos/core/errors';
import type { MapKind } from '@zographos/core/image';
import { FIRST_TILE } from '@zographos/core/uv';
import type { Run } from '@zographos/contracts';
import { atlasPlaces, type AtlasSettings } from '@zographos/operations';
import { imageSets, runs, type AtlasRunRow } from '../data/entities.ts';
import { notFound, readProjectSummary } from '../data/readProject.ts';
import { addMadeMesh, addMeshRevision, type MadeMesh } from '../meshes/meshRevisions.ts';
import { latestRevisions } from '../data/latestRevisions.ts';
import { enqueueOnce, meshesOf } from './enqueueOnce.ts';
import { addMapRevision, mapAt } from './queue.ts';
import { readAtlasInputs } from './atlasInputs.ts';

/**
 * Queues an atlas.
 * @throws input/bad-settings for a set without maps, or over several tiles; limit/packing; missing/not-found
 */
export async function enqueueAtlas(database: DataSource, projectId: string, settings: AtlasSettings): Promise<Run> {
  await readProjectSummary(database, projectId);
  const { sets, key } = await readAtlasInputs(database, settings);
  if (sets.length !== settings.sets.length) {
    throw new ZographosError(
      'missing/not-found',
      'An image set of this atlas no longer exists. Choose the sets again.',
    );
  }
  for (const { name, maps: newest, tiles } of sets) {
    if (tiles.length > 1) {
      throw new ZographosError(
        'input/outside-tile',
        `“${name}” lies on ${tiles.length} UDIM tiles, where its neighbours will lie in the atlas. Pack it into one tile in the UV room and carry its maps over first.`,
      );
    }
    if (newest.size === 0) {
      throw new ZographosError('input/bad-settings', `“${name}” has no map yet. Bake it first, or leave it out.`);
    }
  }
  atlasPlaces(settings);
  const ids = [...new Set(sets.flatMap(({ meshIds }) => meshIds))];
  return enqueueOnce(database, projectId, 'atlas', settings, await meshesOf(database, projectId, ids), key);
}

/** Queues an atlas again as it was asked for, of its sets as they are now. @throws missing/not-found */
export async function renewAtlas(database: DataSource, runId: string): Promise<Run> {
  const row = await database.getRepository(runs).findOneBy({ id: runId });
  if (row?.operation !== 'atlas') return notFound('atlas');
  return enqueueAtlas(database, row.projectId, row.settings);
}

type NewMap = Omit<Parameters<typeof addMapRevision>[3], 'key'>;

/**
 * Puts an atlas in place: the mesh and the image set of its name, or the next revisions of both.
 * @param mesh null where none of its sets lies on one
 */
export async function placeAtlas(
  manager: EntityManager,
  run: Pick<AtlasRunRow, 'id' | 'projectId' | 'key' | 'settings' | 'sentence' | 'inputs'>,
  mesh: MadeMesh | null,
  made: readonly (NewMap & { kind: MapKind })[],
): Promise<void> {
  const { name } = run.settings;
  const known = await atlasOfName(manager, run.projectId, name, mesh !== null);
  const receiverId = mesh && (await placeMesh(manager, run, known?.receiverId ?? null, mesh));
  const imageSetId =
    known?.id ??
    (await manager.getRepository(imageSets).save({ projectId: run.projectId, receiverId, uvSet: 0, name, tiles: [] }))
      .id;
  for (const { kind, ...revision } of made) {
    const mapId = await mapAt(manager, { imageSetId, kind, tile: FIRST_TILE, layered: false }, null);
    await addMapRevision(manager, mapId, run.id, { ...revision, key: run.key });
  }
}

/** The mesh of an atlas, or its next revision. @returns its id */
async function placeMesh(
  manager: EntityManager,
  { inputs, settings, sentence }: Pick<AtlasRunRow, 'settings' | 'sentence' | 'inputs'>,
  known: string | null,
  mesh: MadeMesh,
): Promise<string> {
  if (!known) return addMadeMesh(manager, inputs.receivers[0]!.assetId, settings.name, mesh, sentence);
  const latest = (await latestRevisions(manager, [known])).get(known)!;
  await addMeshRevision(manager, known, latest.contentHash, mesh, sentence);
  return known;
}

async function atlasOfName(
  manager: EntityManager,
  projectId: string,
  name: string,
  hasMesh: boolean,
): Promise<{ id: string; receiverId: string | null } | undefined> {
  const [row] = await manager.query<{ id: string; receiverId: string | null }[]>(
    `SELECT s.id, s."receiverId" FROM image_set s JOIN map m ON m."imageSetId" = s.id
       WHERE s."projectId" = $1 AND s.name = $2 AND m."ticketId" IS NULL
         AND (s."receiverId" IS NOT NULL) = $3 LIMIT 1`,
    [projectId, name, hasMesh],
  );
  return row;
}
