import { In, IsNull, type DataSource, type EntityManager, type FindOptionsWhere } from 'typeorm';
import { ZographosError } from '@zographos/core/errors';
import { FIRST_TILE } from '@zographos/core/uv';
import type { BakeTicket, NewTicket, Ticket, TicketInputs } from '@zographos/contracts';
import { formatFor, IMAGE_FORMATS } from '@zographos/formats/image-formats';
import {
  eachInput,
  meshInputs,
  operationOf,
  OPERATIONS,
  parseSettings,
  sentenceText,
  type Estimate,
  type MeshFacts,
  type TicketFile,
  type TicketInput,
  type TicketKind,
} from '@zographos/operations';
import { requireVersion } from '../data/locking.ts';
import {
  assets,
  imageSets,
  mapRevisions,
  maps,
  tickets,
  type ImageSetRow,
  type LayersTicketRow,
  type LightTicketRow,
  type TicketRow,
} from '../data/entities.ts';
import { latestPictures } from '../data/pictures.ts';
import { latestRevisions } from '../data/latestRevisions.ts';
import { notFound, readAsset, readTicket } from '../data/readProject.ts';
import { renewLight, resolvedInputs } from './resolvedInputs.ts';
import { fileName } from '../http/attach.ts';
import { mapFileName } from '../http/mapFileName.ts';

/** @throws missing/not-found, input/bad-settings */
export async function createTicket(database: DataSource, projectId: string, ticket: NewTicket): Promise<Ticket> {
  const id = await database.transaction((manager) => insertTicket(manager, projectId, ticket));
  return readTicket(database, id);
}

/** @throws missing/not-found, input/bad-settings */
export async function insertTicket(manager: EntityManager, projectId: string, ticket: NewTicket): Promise<string> {
  await requireInputs(manager, projectId, ticket.operation, ticket.inputs);
  const { name, operation, inputs } = ticket;
  const settings = parseSettings(operation, ticket.settings);
  const imageSetId = await setOf(manager, projectId, ticket);
  // Operation and settings belong together by their schema, which the union of rows cannot see.
  const values = { name, operation, settings, inputs, projectId, imageSetId } as TicketRow;
  Object.assign(values, await resolvedInputs(manager, values));
  const row = await manager.getRepository(tickets).save(values);
  await claimMaps(manager, row);
  if (row.operation !== 'light') await renewLight(manager, projectId);
  return row.id;
}

/** @throws conflict/changed-elsewhere, missing/not-found, input/bad-settings */
export async function changeTicket(
  database: DataSource,
  id: string,
  change: { version: number; name?: string; settings?: unknown; inputs?: TicketInputs },
): Promise<Ticket> {
  await database.transaction(async (manager) => {
    const row = await requireVersion(manager, tickets, id, change.version, 'ticket');
    if (change.name !== undefined) row.name = change.name;
    if (change.settings !== undefined) row.settings = parseSettings(row.operation, change.settings);
    if (change.inputs) {
      await requireInputs(manager, row.projectId, row.operation, change.inputs);
      row.inputs = change.inputs;
    }
    if (row.operation === 'bake') {
      row.imageSetId = await imageSetOf(manager, row.projectId, row.inputs.receivers[0]!, row.settings.uvSet);
    }
    if (row.operation === 'light') await followReceiver(manager, row);
    Object.assign(row, await resolvedInputs(manager, row));
    await manager.getRepository(tickets).save(row);
    await claimMaps(manager, row);
    if (row.operation !== 'light') await renewLight(manager, row.projectId);
  });
  return readTicket(database, id);
}

/** @throws conflict/in-use when the ticket has made a map, missing/not-found */
export async function deleteTicket(database: DataSource, id: string): Promise<void> {
  await database.transaction(async (manager) => {
    const made = await manager.getRepository(mapRevisions).existsBy({
      mapId: In((await manager.getRepository(maps).findBy({ ticketId: id })).map((map) => map.id)),
    });
    if (made) {
      throw new ZographosError(
        'conflict/in-use',
        'This ticket cannot be deleted, because its maps refer to it. Change its settings, or create a new ticket.',
      );
    }
    const { affected } = await manager.getRepository(tickets).delete({ id });
    if (!affected) notFound('ticket');
  });
}

export async function estimateTicket(database: DataSource, id: string): Promise<Estimate> {
  const ticket = await readTicket(database, id);
  const facts = async (assetId: string): Promise<MeshFacts> => {
    const asset = await readAsset(database, assetId);
    if (asset.kind !== 'mesh') return notFound('mesh');
    const { triangles, vertices, uvTiles } = asset.inspection;
    return { name: asset.name, triangles, vertices, uvTiles };
  };
  const { receivers, sources } = ticket.inputs;
  return operationOf(ticket.operation).estimate(ticket.settings, await eachInput({ receivers, sources }, facts));
}

/** A ticket of layers. @throws missing/not-found */
export async function readLayersTicket(database: DataSource, id: string): Promise<LayersTicketRow> {
  const row = await database.getRepository(tickets).findOneBy({ id });
  if (row?.operation !== 'layers') return notFound('stack of layers');
  return { ...row, settings: parseSettings('layers', row.settings) };
}

/** The ticket as a file for the command line; what it names are the files that meshes and pictures came in. */
export async function ticketAsFile(database: DataSource, id: string): Promise<TicketFile> {
  const ticket = await readTicket(database, id);
  const file = { zographos: 'ticket', version: 2, name: ticket.name } as const;
  if (ticket.operation === 'bake') {
    const { operation, settings, inputs } = ticket;
    return { ...file, operation, settings, inputs: await eachInput(inputs, (input) => inputFile(database, input)) };
  }
  const pictures: TicketInput[] = [];
  const receivers = await Promise.all(ticket.inputs.receivers.map((id) => inputFile(database, id)));
  for (const picture of ticket.inputs.pictures ?? []) pictures.push(await inputFile(database, picture));
  const sources = await Promise.all(ticket.inputs.sources.map((id) => inputFile(database, id)));
  const { ticket: kept } = OPERATIONS[ticket.operation];
  const inputs = { flat: { pictures }, set: { receivers, pictures }, lit: { receivers, sources, pictures } }[kept];
  // Operation and settings belong together by their schema, which the union of tickets cannot see.
  return { ...file, operation: ticket.operation, settings: ticket.settings, inputs } as TicketFile;
}

/** The file of an asset; of a map, the one that it is downloaded as. */
async function inputFile(database: DataSource, id: string): Promise<TicketInput> {
  const map = await database.getRepository(maps).findOneBy({ id });
  if (map) {
    const { name, namePattern } = await database.getRepository(imageSets).findOneByOrFail({ id: map.imageSetId });
    const ending = IMAGE_FORMATS[formatFor(map.kind)].ending;
    return { file: `${fileName(mapFileName(namePattern, name, map.kind, map.tile))}.${ending}` };
  }
  const asset = await readAsset(database, id);
  return asset.kind === 'mesh' ? { file: asset.fileName, object: asset.objectName } : { file: asset.fileName };
}

/** The ticket's sentence with the names its inputs have now. */
export async function ticketSentence(database: DataSource, ticket: Ticket): Promise<string> {
  const names = await eachInput(ticket.inputs, (id) => inputName(database, id));
  const unit = ticket.operation === 'bake' ? await unitOf(database, ticket) : 'units';
  return sentenceText(operationOf(ticket.operation).sentence(ticket.settings, names, unit));
}

async function unitOf(database: DataSource, { inputs }: BakeTicket): Promise<string> {
  const receiver = await readAsset(database, inputs.receivers[0]!);
  return receiver.kind === 'mesh' ? receiver.unit : 'units';
}

async function inputName(database: DataSource, id: string): Promise<string> {
  const asset = await database.getRepository(assets).findOneBy({ id });
  return asset?.name ?? (await latestPictures(database, [id])).get(id)?.name ?? 'a deleted image';
}

async function requireInputs(
  manager: EntityManager,
  projectId: string,
  operation: TicketKind,
  inputs: TicketInputs,
): Promise<void> {
  if ((operation === 'bake' || operation === 'light') && inputs.receivers.length === 0) {
    throw new ZographosError('input/bad-settings', 'A bake needs a mesh that carries its maps. Choose one.');
  }
  const ids = [...new Set(meshInputs(inputs))];
  const found = await manager.getRepository(assets).countBy({ id: In(ids), projectId, kind: 'mesh' });
  if (found !== ids.length) notFound('mesh');
  const images = [...new Set([...(inputs.mask ? [inputs.mask] : []), ...(inputs.pictures ?? [])])];
  const known = await manager.getRepository(assets).countBy({ id: In(images), projectId, kind: 'image' });
  const drawn = operation !== 'bake' ? await mapsAmong(manager, projectId, images) : 0;
  if (known + drawn !== images.length) notFound('image');
}

/** How many of some ids are maps of a project, made or to be made. */
async function mapsAmong(manager: EntityManager, projectId: string, ids: readonly string[]): Promise<number> {
  const rows = await manager.getRepository(maps).findBy({ id: In([...ids]) });
  const own = await manager
    .getRepository(imageSets)
    .findBy({ id: In(rows.map(({ imageSetId }) => imageSetId)), projectId });
  return rows.filter(({ imageSetId }) => own.some(({ id }) => id === imageSetId)).length;
}

/** The image set that a new ticket fills. @throws missing/not-found */
async function setOf(manager: EntityManager, projectId: string, ticket: NewTicket): Promise<string> {
  if (ticket.operation === 'bake') {
    return imageSetOf(manager, projectId, ticket.inputs.receivers[0]!, ticket.settings.uvSet);
  }
  if (ticket.operation === 'light') return litSetOf(manager, projectId, ticket);
  if (ticket.operation !== 'layers') return flatSetOf(manager, projectId, ticket.set);
  return knownSet(manager, { id: ticket.set.id, projectId });
}

/** @throws missing/not-found */
async function knownSet(
  manager: EntityManager,
  where: FindOptionsWhere<ImageSetRow>,
  what = 'image set',
): Promise<string> {
  return (await manager.getRepository(imageSets).findOneBy(where))?.id ?? notFound(what);
}

/** The image set that shows meshes in light: one that does so already, or a new one. @throws missing/not-found */
async function litSetOf(
  manager: EntityManager,
  projectId: string,
  { set, inputs, settings }: Extract<NewTicket, { operation: 'light' }>,
): Promise<string> {
  if (!('name' in set)) return knownSet(manager, { id: set.id, projectId, lit: true });
  const values = { projectId, receiverId: inputs.receivers[0]!, uvSet: settings.uvSet, lit: true, name: set.name };
  return (await manager.getRepository(imageSets).save(values)).id;
}

/** The image set of a light ticket lies on the layout that the ticket names now. */
async function followReceiver(manager: EntityManager, { imageSetId, inputs, settings }: LightTicketRow): Promise<void> {
  await manager
    .getRepository(imageSets)
    .update({ id: imageSetId }, { receiverId: inputs.receivers[0]!, uvSet: settings.uvSet });
}

/** @throws missing/not-found */
async function flatSetOf(
  manager: EntityManager,
  projectId: string,
  set: { id: string } | { name: string },
): Promise<string> {
  if (!('name' in set)) return knownSet(manager, { id: set.id, projectId, receiverId: IsNull() }, 'flat set');
  const values = { projectId, receiverId: null, uvSet: 0, name: set.name };
  return (await manager.getRepository(imageSets).save(values)).id;
}

/** The image set of a receiver's UV set, made on first use. */
export async function imageSetOf(
  manager: EntityManager,
  projectId: string,
  receiverId: string,
  uvSet: number,
): Promise<string> {
  const repository = manager.getRepository(imageSets);
  const known = await repository.findOneBy({ receiverId, uvSet, lit: false });
  if (known) return known.id;
  const { name } = await manager.getRepository(assets).findOneByOrFail({ id: receiverId });
  const inspection = (await latestRevisions(manager, [receiverId])).get(receiverId)?.inspection;
  const layout = inspection && 'uvSets' in inspection ? inspection.uvSets[uvSet] : undefined;
  const title = uvSet === 0 ? name : `${name}, ${layout ?? `UV ${uvSet + 1}`}`;
  return (await repository.save({ projectId, receiverId, uvSet, name: title })).id;
}

/** Makes the ticket the maker of its maps, and drops places it no longer fills and never filled. */
export async function claimMaps(manager: EntityManager, ticket: TicketRow): Promise<void> {
  const repository = manager.getRepository(maps);
  const kinds = operationOf(ticket.operation).outputs(ticket.settings);
  const tiles = await tilesOf(manager, ticket);
  for (const kind of kinds) {
    for (const tile of tiles) {
      const place = { imageSetId: ticket.imageSetId, kind, tile, layered: ticket.operation === 'layers' };
      const known = await repository.findOneBy(place);
      await repository.save({ ...(known ?? place), ticketId: ticket.id });
    }
  }
  const unfilled = await manager
    .createQueryBuilder(maps, 'm')
    .leftJoin(mapRevisions.options.name, 'r', 'r."mapId" = m.id')
    .where({ ticketId: ticket.id })
    .andWhere('r.id IS NULL')
    .getMany();
  for (const map of unfilled) {
    if (map.imageSetId === ticket.imageSetId && kinds.includes(map.kind) && tiles.includes(map.tile)) continue;
    await repository.delete({ id: map.id });
  }
}

/** The tiles that a ticket fills: those it names, or all in which its receivers have islands. */
async function tilesOf(manager: EntityManager, ticket: TicketRow): Promise<number[]> {
  const { settings, inputs } = ticket;
  if (!('tiles' in settings)) return [FIRST_TILE];
  if (settings.tiles !== 'all') return settings.tiles;
  const revisions = await latestRevisions(manager, inputs.receivers);
  const tiles = inputs.receivers.flatMap((id) => {
    const inspection = revisions.get(id)?.inspection;
    return inspection && 'triangles' in inspection ? (inspection.uvTiles[settings.uvSet] ?? []) : [];
  });
  return tiles.length > 0 ? [...new Set(tiles)].sort((a, b) => a - b) : [FIRST_TILE];
}
