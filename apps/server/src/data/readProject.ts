import { In, type DataSource } from 'typeorm';
import { ZographosError } from '@zographos/core/errors';
import type { Asset, ImageSet, MapRevision, Project, ProjectSummary, Proof, Run, Ticket } from '@zographos/contracts';
import { parseSettings } from '@zographos/operations';
import { currentKeys } from '../tickets/runKey.ts';
import { outdatedAtlases } from '../runs/atlasInputs.ts';
import { latestRevisions } from './latestRevisions.ts';
import {
  assets,
  imageSets,
  mapRevisions,
  maps,
  profiles,
  projects,
  runs,
  tickets,
  type AssetRevisionRow,
  type AssetRow,
  type ImageSetRow,
  type MapRevisionRow,
  type MapRow,
  type RunRow,
  type TicketRow,
} from './entities.ts';

/** Rows of the tables as they travel to the studio. */

const RUNS_SHOWN = 60;

export async function readProjects(database: DataSource): Promise<ProjectSummary[]> {
  const rows = await database.query<(Omit<ProjectSummary, 'createdAt'> & { createdAt: Date })[]>(
    `SELECT p.id, p.name, p.version, p."createdAt",
       (SELECT count(*)::int FROM asset a WHERE a."projectId" = p.id) AS assets,
       (SELECT count(*)::int FROM map m JOIN image_set s ON s.id = m."imageSetId" WHERE s."projectId" = p.id
          AND EXISTS (SELECT 1 FROM map_revision r WHERE r."mapId" = m.id)) AS maps
     FROM project p ORDER BY p."createdAt" DESC`,
  );
  return rows.map((row) => ({ ...row, createdAt: row.createdAt.toISOString() }));
}

/** @throws missing/not-found */
export async function readProjectSummary(database: DataSource, id: string): Promise<ProjectSummary> {
  const found = (await readProjects(database)).find((project) => project.id === id);
  return found ?? notFound('project');
}

/** @throws missing/not-found */
export async function readProject(database: DataSource, id: string): Promise<Project> {
  const row = (await database.getRepository(projects).findOneBy({ id })) ?? notFound('project');
  const [assetList, setRows, ticketRows, runRows, profileRows] = await Promise.all([
    readAssets(database, id),
    database.getRepository(imageSets).find({ where: { projectId: id }, order: { createdAt: 'ASC' } }),
    database.getRepository(tickets).find({ where: { projectId: id }, order: { createdAt: 'ASC' } }),
    database.getRepository(runs).find({ where: { projectId: id }, order: { createdAt: 'DESC' }, take: RUNS_SHOWN }),
    database.getRepository(profiles).find({ where: { projectId: id }, order: { createdAt: 'ASC' } }),
  ]);
  const keys = await currentKeys(database, ticketRows);
  const imageSetList = await toImageSets(database, setRows);
  return {
    id,
    name: row.name,
    version: row.version,
    assets: assetList,
    // A layout that no ticket fills any more and that holds neither map nor tile is not worth a row.
    imageSets: imageSetList.filter((set) => set.receiverId === null || set.maps.length > 0 || set.tiles.length > 0),
    tickets: ticketRows.map((ticket) => toTicket(ticket, keys.get(ticket.id) ?? null)),
    profiles: profileRows.map(({ id: profileId, version, settings }) => ({ id: profileId, version, settings })),
    runs: runRows.map(toRun),
  };
}

export async function readAssets(database: DataSource, projectId: string): Promise<Asset[]> {
  const rows = await database
    .getRepository(assets)
    .find({ where: { projectId }, order: { createdAt: 'ASC', name: 'ASC' } });
  const revisions = await latestRevisions(
    database,
    rows.map((row) => row.id),
  );
  return rows.map((row) => toAsset(row, revisions.get(row.id)!));
}

/** @throws missing/not-found */
export async function readAsset(database: DataSource, id: string): Promise<Asset> {
  const row = (await database.getRepository(assets).findOneBy({ id })) ?? notFound('mesh or image');
  return toAsset(row, (await latestRevisions(database, [id])).get(id)!);
}

function toAsset(row: AssetRow, revision: AssetRevisionRow): Asset {
  const base = {
    id: row.id,
    name: row.name,
    version: row.version,
    revision: revision.number,
    fileName: revision.fileName,
    originalHash: revision.originalHash,
    contentHash: revision.contentHash,
    createdAt: row.createdAt.toISOString(),
  };
  const { inspection } = revision;
  if ('triangles' in inspection) {
    return {
      ...base,
      kind: 'mesh',
      objectName: revision.objectName ?? row.name,
      unit: row.unit ?? 'units',
      inspection,
    };
  }
  return {
    ...base,
    kind: 'image',
    imageKind: row.imageKind ?? 'image',
    colorSpace: row.colorSpace ?? 'linear',
    convention: row.convention,
    packing: row.packing,
    thumbnailHash: revision.thumbnailHash!,
    inspection,
  };
}

async function toImageSets(database: DataSource, sets: ImageSetRow[]): Promise<ImageSet[]> {
  const mapRows = await database.getRepository(maps).findBy({ imageSetId: In(sets.map((set) => set.id)) });
  const revisions = await database
    .getRepository(mapRevisions)
    .find({ where: { mapId: In(mapRows.map((map) => map.id)) }, order: { number: 'DESC' } });
  const outdated = await outdatedAtlases(
    database,
    mapRows.filter(({ ticketId }) => ticketId === null).map(({ id }) => revisions.find(({ mapId }) => mapId === id)),
  );
  return sets.map(({ id, name, version, receiverId, uvSet, lit, tiles, namePattern, tileWidth, references }) => ({
    id,
    name,
    version,
    receiverId,
    uvSet,
    lit,
    tiles,
    namePattern,
    tileWidth,
    references,
    maps: mapRows.filter((map) => map.imageSetId === id).map((map) => toTextureMap(map, revisions, outdated)),
  }));
}

function toTextureMap(
  { id, kind, tile, ticketId, layered }: MapRow,
  revisions: MapRevisionRow[],
  outdated: ReadonlySet<string>,
): ImageSet['maps'][number] {
  const own = revisions.filter(({ mapId }) => mapId === id);
  const isOutdated = own[0] !== undefined && outdated.has(own[0].runId);
  return { id, kind, tile, ticketId, layered, isOutdated, revisions: own.map(toMapRevision) };
}

function toMapRevision(row: MapRevisionRow): MapRevision {
  const { channels, levels, range = [0, 1], colorSpace = 'linear', convention = null } = row.directory;
  return {
    id: row.id,
    number: row.number,
    runId: row.runId,
    key: row.key,
    width: levels[0]!.width,
    height: levels[0]!.height,
    channels,
    range: [range[0], range[1]],
    colorSpace,
    convention,
    levels: levels.map(({ width, height, columns, rows }) => ({ width, height, columns, rows })),
    histograms: row.histograms,
    thumbnailHash: row.thumbnailHash,
    createdAt: row.createdAt.toISOString(),
  };
}

/** @throws missing/not-found */
export async function readImageSet(database: DataSource, id: string): Promise<ImageSet> {
  const row = (await database.getRepository(imageSets).findOneBy({ id })) ?? notFound('image set');
  return (await toImageSets(database, [row]))[0]!;
}

/** @throws missing/not-found */
export async function readTicket(database: DataSource, id: string): Promise<Ticket> {
  const row = (await database.getRepository(tickets).findOneBy({ id })) ?? notFound('ticket');
  return toTicket(row, (await currentKeys(database, [row])).get(id) ?? null);
}

function toTicket(
  { id, name, version, operation, settings, inputs, imageSetId, createdAt }: TicketRow,
  key: string | null,
): Ticket {
  // Settings that have come since it was written take their usual values.
  const complete = parseSettings(operation, settings);
  const ticket = { id, name, version, operation, settings: complete, inputs, imageSetId, key };
  // Operation and settings belong together in the row, which the union cannot see once they are apart.
  return { ...ticket, createdAt: createdAt.toISOString() } as Ticket;
}

/** @throws missing/not-found */
export async function readRun(database: DataSource, id: string): Promise<Run> {
  return toRun((await database.getRepository(runs).findOneBy({ id })) ?? notFound('run'));
}

function titleOf(row: RunRow): string | null {
  if (row.operation === 'merge' || row.operation === 'atlas') return row.settings.name;
  return row.operation === 'deliver' ? row.settings.profile.name : null;
}

function toRun(row: RunRow): Run {
  const { id, operation, report, ticketId, key, sentence, state, stage, share, secondsLeft, note, previewVersion } =
    row;
  const base = {
    id,
    ticketId,
    title: titleOf(row),
    meshes: ticketId !== null ? [] : row.inputs.receivers.map(({ assetId }) => assetId),
    key,
    sentence,
    state,
    stage,
    share,
    secondsLeft,
    note,
    previewVersion,
    attempts: row.attempts,
    error: row.error,
    createdAt: row.createdAt.toISOString(),
    startedAt: row.startedAt?.toISOString() ?? null,
    finishedAt: row.finishedAt?.toISOString() ?? null,
  };
  // Operation and report belong together in the row, which the union cannot see once they are apart.
  return { ...base, operation, report } as Run;
}

/** @throws missing/not-found */
export async function readProof(database: DataSource, runId: string): Promise<Proof> {
  const [row] = await database.query<{ proof: Pick<Proof, 'seams'> | null; hasLikeness: boolean }[]>(
    `SELECT proof, likeness IS NOT NULL AS "hasLikeness" FROM run WHERE id = $1`,
    [runId],
  );
  if (!row) return notFound('run');
  return { seams: row.proof?.seams ?? {}, hasLikeness: row.hasLikeness };
}

/** @throws missing/not-found, always */
export function notFound(what: string): never {
  throw new ZographosError('missing/not-found', `This ${what} no longer exists. Reload the page.`);
}
