import type { DataSource, EntityManager } from 'typeorm';
import { ZographosError } from '@zographos/core/errors';
import { MAP_KINDS, type MapKind } from '@zographos/core/image';
import { FIRST_TILE } from '@zographos/core/uv';
import type { Run } from '@zographos/contracts';
import { sheetPlaces, type SheetReport, type SheetSettings } from '@zographos/operations';
import type { BlobStore } from '../blobs/blobStore.ts';
import { imageSets, runs, type MapRevisionRow, type SheetRunRow } from '../data/entities.ts';
import { notFound, readProjectSummary } from '../data/readProject.ts';
import { addMadeMesh, addMeshRevision, type MadeMesh } from '../meshes/meshRevisions.ts';
import { latestRevisions } from '../data/latestRevisions.ts';
import type { SheetMap } from '../worker/operationThread.ts';
import { enqueueOnce, meshesOf } from './enqueueOnce.ts';
import { loadMapImage, loadMapStates } from '../data/mapImages.ts';
import { addMapRevision, mapAt } from './queue.ts';
import { readSheetInputs } from './atlasInputs.ts';

/**
 * Queues a sheet.
 * @throws input/bad-settings for a set without maps, or over several tiles; limit/packing; missing/not-found
 */
export async function enqueueSheet(database: DataSource, projectId: string, settings: SheetSettings): Promise<Run> {
  await readProjectSummary(database, projectId);
  const { sets, key } = await readSheetInputs(database, settings);
  if (sets.length !== settings.sets.length) {
    throw new ZographosError(
      'missing/not-found',
      'An image set of this sheet is not here any more. Choose the sets again.',
    );
  }
  for (const { name, maps: newest, tiles } of sets) {
    if (tiles.length > 1) {
      throw new ZographosError(
        'input/outside-tile',
        `“${name}” lies on ${tiles.length} UDIM tiles, where its neighbours will lie in the sheet. Pack it into one tile in the UV room and carry its maps over first.`,
      );
    }
    if (newest.size === 0) {
      throw new ZographosError('input/bad-settings', `“${name}” has no map yet. Bake it first, or leave it out.`);
    }
  }
  sheetPlaces(settings);
  const ids = [...new Set(sets.flatMap(({ meshIds }) => meshIds))];
  return enqueueOnce(database, projectId, 'sheet', settings, await meshesOf(database, projectId, ids), key);
}

/** Queues a sheet again as it was asked for, of its sets as they are now. @throws missing/not-found */
export async function renewSheet(database: DataSource, runId: string): Promise<Run> {
  const row = await database.getRepository(runs).findOneBy({ id: runId });
  if (row?.operation !== 'sheet') return notFound('sheet');
  return enqueueSheet(database, row.projectId, row.settings);
}

/** The kinds of maps that a sheet has, in their usual order. */
export const kindsOf = (sets: readonly { maps: ReadonlyMap<MapKind, unknown> }[]): MapKind[] =>
  MAP_KINDS.filter((kind) => sets.some((set) => set.maps.has(kind)));

/** The map of one kind of each set, as it travels to the operation. */
export async function loadSheetMaps(
  blobs: BlobStore,
  kind: MapKind,
  sets: readonly { maps: ReadonlyMap<MapKind, MapRevisionRow> }[],
): Promise<(SheetMap | null)[]> {
  const loaded: (SheetMap | null)[] = [];
  for (const set of sets) {
    const revision = set.maps.get(kind);
    if (!revision) {
      loaded.push(null);
      continue;
    }
    loaded.push({ image: await loadMapImage(blobs, revision), states: await loadMapStates(blobs, revision) });
  }
  return loaded;
}

export const reportOf = (
  settings: SheetSettings,
  sets: readonly { name: string; maps: ReadonlyMap<MapKind, unknown> }[],
  seconds: number,
): SheetReport => {
  const kinds = kindsOf(sets);
  return {
    places: sheetPlaces(settings),
    maps: kinds,
    neutral: kinds.flatMap((map) => sets.filter((set) => !set.maps.has(map)).map(({ name: set }) => ({ set, map }))),
    seconds,
  };
};

type NewMap = Omit<Parameters<typeof addMapRevision>[3], 'key'>;

/** Puts a sheet in place: the mesh and the image set of its name, or the next revisions of both. */
export async function placeSheet(
  manager: EntityManager,
  run: Pick<SheetRunRow, 'id' | 'projectId' | 'key' | 'settings' | 'sentence' | 'inputs'>,
  mesh: MadeMesh,
  made: readonly (NewMap & { kind: MapKind })[],
): Promise<void> {
  const { name } = run.settings;
  const known = await sheetOfName(manager, run.projectId, name);
  const receiverId =
    known?.receiverId ?? (await addMadeMesh(manager, run.inputs.receivers[0]!.assetId, name, mesh, run.sentence));
  if (known) {
    const latest = (await latestRevisions(manager, [receiverId])).get(receiverId)!;
    await addMeshRevision(manager, receiverId, latest.contentHash, mesh, run.sentence);
  }
  const imageSetId =
    known?.id ??
    (await manager.getRepository(imageSets).save({ projectId: run.projectId, receiverId, uvSet: 0, name, tiles: [] }))
      .id;
  for (const { kind, ...revision } of made) {
    const mapId = await mapAt(manager, { imageSetId, kind, tile: FIRST_TILE }, null);
    await addMapRevision(manager, mapId, run.id, { ...revision, key: run.key });
  }
}

async function sheetOfName(
  manager: EntityManager,
  projectId: string,
  name: string,
): Promise<{ id: string; receiverId: string } | undefined> {
  const [row] = await manager.query<{ id: string; receiverId: string }[]>(
    `SELECT s.id, s."receiverId" FROM image_set s JOIN map m ON m."imageSetId" = s.id
       WHERE s."projectId" = $1 AND s.name = $2 AND m."ticketId" IS NULL LIMIT 1`,
    [projectId, name],
  );
  return row;
}
