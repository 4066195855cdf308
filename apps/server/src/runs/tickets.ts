import { In, type DataSource, type EntityManager } from 'typeorm';
import { FIRST_TILE, ZographosError } from '@zographos/core';
import type { Ticket, TicketInputs } from '@zographos/contracts';
import {
  eachInput,
  meshInputs,
  OPERATIONS,
  parseSettings,
  type Estimate,
  type MeshFacts,
  type OperationSettings,
  type TicketFile,
  type TicketInput,
  type TicketKind,
} from '@zographos/operations';
import { requireVersion } from '../data/locking.ts';
import { assets, imageSets, mapRevisions, maps, tickets, type TicketRow } from '../data/entities.ts';
import { latestRevisions } from '../data/latestRevisions.ts';
import { notFound, readAsset, readTicket } from '../data/readProject.ts';

interface NewTicket {
  name: string;
  operation: TicketKind;
  settings: OperationSettings[TicketKind];
  inputs: TicketInputs;
}

/** @throws missing/not-found, input/bad-settings */
export async function createTicket(database: DataSource, projectId: string, ticket: NewTicket): Promise<Ticket> {
  const id = await database.transaction((manager) => insertTicket(manager, projectId, ticket));
  return readTicket(database, id);
}

/** @throws missing/not-found, input/bad-settings */
export async function insertTicket(manager: EntityManager, projectId: string, ticket: NewTicket): Promise<string> {
  await requireInputs(manager, projectId, ticket.inputs);
  const settings = parseSettings(ticket.operation, ticket.settings);
  const imageSetId = await imageSetOf(manager, projectId, ticket.inputs.receivers[0]!, settings.uvSet);
  const row = await manager.getRepository(tickets).save({ ...ticket, settings, projectId, imageSetId });
  await claimMaps(manager, row);
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
      await requireInputs(manager, row.projectId, change.inputs);
      row.inputs = change.inputs;
    }
    row.imageSetId = await imageSetOf(manager, row.projectId, row.inputs.receivers[0]!, row.settings.uvSet);
    await manager.getRepository(tickets).save(row);
    await claimMaps(manager, row);
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
        'This ticket has made maps, and they keep it as their record. Change its settings instead, or make another ticket.',
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
    return { name: asset.name, triangles: asset.inspection.triangles, vertices: asset.inspection.vertices };
  };
  const { receivers, sources } = ticket.inputs;
  return OPERATIONS[ticket.operation].estimate(ticket.settings, await eachInput({ receivers, sources }, facts));
}

/** The ticket as a file for the command line; the meshes it names are the files they came in. */
export async function ticketAsFile(database: DataSource, id: string): Promise<TicketFile> {
  const ticket = await readTicket(database, id);
  const input = async (assetId: string): Promise<TicketInput> => {
    const asset = await readAsset(database, assetId);
    return asset.kind === 'mesh' ? { file: asset.fileName, object: asset.objectName } : { file: asset.fileName };
  };
  return {
    zographos: 'ticket',
    version: 2,
    name: ticket.name,
    operation: ticket.operation,
    settings: ticket.settings,
    inputs: await eachInput(ticket.inputs, input),
  };
}

/** The ticket's sentence with the names its inputs have now. */
export async function ticketSentence(database: DataSource, ticket: Ticket): Promise<string> {
  const receiver = await readAsset(database, ticket.inputs.receivers[0]!);
  const names = await eachInput(ticket.inputs, async (asset) => (await readAsset(database, asset)).name);
  const unit = receiver.kind === 'mesh' ? receiver.unit : 'units';
  return OPERATIONS[ticket.operation]
    .sentence(ticket.settings, names, unit)
    .map((part) => part.text)
    .join('');
}

async function requireInputs(manager: EntityManager, projectId: string, inputs: TicketInputs): Promise<void> {
  const ids = [...new Set(meshInputs(inputs))];
  const found = await manager.getRepository(assets).countBy({ id: In(ids), projectId, kind: 'mesh' });
  if (found !== ids.length) notFound('mesh');
  const images = [...new Set([...(inputs.mask ? [inputs.mask] : []), ...(inputs.pictures ?? [])])];
  const known = await manager.getRepository(assets).countBy({ id: In(images), projectId, kind: 'image' });
  if (known !== images.length) notFound('image');
}

/** The image set of a receiver's UV set, made on first use. */
export async function imageSetOf(
  manager: EntityManager,
  projectId: string,
  receiverId: string,
  uvSet: number,
): Promise<string> {
  const repository = manager.getRepository(imageSets);
  const known = await repository.findOneBy({ receiverId, uvSet });
  if (known) return known.id;
  const { name } = await manager.getRepository(assets).findOneByOrFail({ id: receiverId });
  const inspection = (await latestRevisions(manager, [receiverId])).get(receiverId)?.inspection;
  const layout = inspection && 'uvSets' in inspection ? inspection.uvSets[uvSet] : undefined;
  const title = uvSet === 0 ? name : `${name}, ${layout ?? `UV ${uvSet + 1}`}`;
  return (await repository.save({ projectId, receiverId, uvSet, name: title })).id;
}

/** Makes the ticket the maker of its maps, and drops places it no longer fills and never filled. */
export async function claimMaps(
  manager: EntityManager,
  ticket: Pick<TicketRow, 'id' | 'operation' | 'settings' | 'imageSetId' | 'inputs'>,
): Promise<void> {
  const repository = manager.getRepository(maps);
  const kinds = OPERATIONS[ticket.operation].outputs(ticket.settings);
  const tiles = await tilesOf(manager, ticket);
  for (const kind of kinds) {
    for (const tile of tiles) {
      const place = { imageSetId: ticket.imageSetId, kind, tile };
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
async function tilesOf(
  manager: EntityManager,
  { settings, inputs }: Pick<TicketRow, 'settings' | 'inputs'>,
): Promise<number[]> {
  if (settings.tiles !== 'all') return settings.tiles;
  const revisions = await latestRevisions(manager, inputs.receivers);
  const tiles = inputs.receivers.flatMap((id) => {
    const inspection = revisions.get(id)?.inspection;
    return inspection && 'triangles' in inspection ? (inspection.uvTiles[settings.uvSet] ?? []) : [];
  });
  return tiles.length > 0 ? [...new Set(tiles)].sort((a, b) => a - b) : [FIRST_TILE];
}
