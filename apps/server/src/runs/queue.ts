import { randomUUID } from 'node:crypto';
import type { DataSource, EntityManager } from 'typeorm';
import { ZographosError } from '@zographos/core/errors';
import { describeKind, phraseOfKinds } from '@zographos/core/image';
import {
  isLayersTicket,
  isLightTicket,
  type LayersTicket,
  type Region,
  type Run,
  type Ticket,
} from '@zographos/contracts';
import { eachInput } from '@zographos/operations';
import {
  mapRevisions,
  maps,
  runs,
  tickets,
  type BakeRunRow,
  type MapRevisionRow,
  type MapRow,
  type RunInput,
  type RunRow,
  type TicketRunRow,
} from '../data/entities.ts';
import { latestRevisions } from '../data/latestRevisions.ts';
import { latestPictures } from '../data/pictures.ts';
import { notFound, readAsset, readRun, readTicket } from '../data/readProject.ts';
import { announce } from '../events/channel.ts';
import { makersOfUnmade } from '../tickets/litInputs.ts';
import { renewInputs } from '../tickets/resolvedInputs.ts';
import { bakeForStack, lackingKinds } from '../tickets/stackInputs.ts';
import { insertTicket, ticketSentence } from '../tickets/tickets.ts';

/** Times a run is taken before it is given up: a run that kills its worker must not do so for ever. */
const MAX_ATTEMPTS = 3;

/**
 * The run table is the queue. A worker takes the oldest queued run under a lease that it keeps renewing; a run
 * whose lease has lapsed goes back to the queue.
 */

/**
 * Asks for a run of a ticket. A run already under way is returned as it is; a result made before with the same
 * key is put in place without computing anything.
 * Layers whose image set lacks a map that they go by have it baked first; light whose meshes wear a map that is not made
 * yet has it made first.
 * @param region the one rectangle to bake, if it is not the whole
 * @param followedBy tickets that are run once this one is done, one after the other
 * @throws input/bad-settings when the ticket has no source yet
 */
export async function enqueueRun(
  database: DataSource,
  ticketId: string,
  region: Region | null = null,
  followedBy: readonly string[] = [],
): Promise<Run> {
  const ticket = await readyTicket(database, ticketId);
  const lacking = await ticketsBefore(database, ticket);
  if (lacking.length > 0) {
    const before: Run[] = [];
    for (const maker of lacking) before.push(await enqueueRun(database, maker, null, [ticketId, ...followedBy]));
    return before[0]!;
  }
  if (!ticket.key) {
    throw new ZographosError(
      'input/bad-settings',
      ticket.operation === 'bake'
        ? 'This ticket has no source yet. Choose at least one mesh to bake from.'
        : 'A picture of this ticket is not there (yet). Choose one, or run the ticket first that makes it.',
    );
  }
  const inputs = await eachInput(ticket.inputs, (asset) => runInput(database, asset));
  const whole = await ticketSentence(database, ticket);
  const { operation, settings } = ticket;
  if (region && operation !== 'bake') {
    throw new ZographosError('input/bad-request', 'Only bakes are made in parts. Run the whole ticket.');
  }
  // Part of a map is no result of its ticket: its name is another, and the map counts as out of date.
  const key = region ? `${ticket.key} ${JSON.stringify(region)} ${randomUUID()}` : ticket.key;
  const sentence = region ? `${whole} Only ${region.width} × ${region.height} px of tile ${region.tile}.` : whole;
  const id = await database.transaction(async (manager) => {
    // One asker at a time for each ticket: pressing the button in two windows gives one run.
    const [{ projectId }] = await manager.query<[{ projectId: string }]>(
      `SELECT "projectId" FROM ticket WHERE id = $1 FOR UPDATE`,
      [ticketId],
    );
    const repository = manager.getRepository(runs);
    const underWay = await repository.findOneBy([
      { ticketId, key, state: 'queued' },
      { ticketId, key, state: 'running' },
    ]);
    if (underWay) {
      const further = followedBy.filter((each) => !underWay.followedBy.includes(each));
      if (further.length > 0) {
        await repository.update({ id: underWay.id }, { followedBy: [...underWay.followedBy, ...further] });
      }
      return underWay.id;
    }
    const values = {
      projectId,
      ticketId,
      key,
      operation,
      settings,
      inputs,
      sentence,
      region,
      state: 'queued',
      followedBy: [...followedBy],
    };
    // Operation and settings belong together by the ticket, which the union of rows cannot see.
    const row = (await repository.save(values as Partial<BakeRunRow>)) as TicketRunRow;
    if (!region) await reuseResult(manager, row);
    return row.id;
  });
  const run = await readRun(database, id);
  await announce(database, { type: 'changed', projectId: await projectOf(database, id) });
  if (run.state === 'queued') await announce(database, { type: 'queued' });
  // A result that was there already keeps nobody waiting.
  if (run.state === 'done' && followedBy[0]) return enqueueRun(database, followedBy[0], null, followedBy.slice(1));
  return run;
}

/** A ticket as it is run: with what its image set, its materials and its meshes hold by now. */
async function readyTicket(database: DataSource, ticketId: string): Promise<Ticket> {
  const row = await database.getRepository(tickets).findOneBy({ id: ticketId });
  if (row) await renewInputs(database.manager, row);
  return readTicket(database, ticketId);
}

/** The tickets whose maps have to be made before those of another. */
async function ticketsBefore(database: DataSource, ticket: Ticket): Promise<string[]> {
  if (isLayersTicket(ticket)) return mapsToBake(database, ticket);
  return isLightTicket(ticket) ? makersOfUnmade(database.manager, ticket.inputs.pictures ?? []) : [];
}

/**
 * The tickets that bake what a stack goes by and nothing has made yet; written where there are none.
 * @throws missing/not-found for a map that cannot be baked
 */
async function mapsToBake(database: DataSource, stack: LayersTicket): Promise<string[]> {
  const lacking = await lackingKinds(database.manager, stack);
  const known = lacking.flatMap(({ ticketId }) => ticketId ?? []);
  const unknown = lacking.filter(({ ticketId }) => ticketId === null).map(({ kind }) => kind);
  const other = unknown.filter((kind) => !describeKind(kind).isBaked);
  if (other.length > 0 || (unknown.length > 0 && stack.inputs.receivers.length === 0)) {
    throw new ZographosError(
      'missing/not-found',
      `The image set has no ${phraseOfKinds(other.length > 0 ? other : unknown)} map, which a layer goes by, and it cannot be baked. Bring it in, or change the layer.`,
    );
  }
  if (unknown.length > 0) {
    const bake = { ...(await bakeForStack(database.manager, stack, unknown)), operation: 'bake' as const };
    const { projectId } = await database.getRepository(tickets).findOneByOrFail({ id: stack.id });
    known.push(await database.transaction((manager) => insertTicket(manager, projectId, bake)));
  }
  return [...new Set(known)];
}

async function runInput(database: DataSource, assetId: string): Promise<RunInput> {
  const revision = (await latestRevisions(database, [assetId])).get(assetId);
  if (revision) {
    const asset = await readAsset(database, assetId);
    const { name, fileName: file } = asset;
    const input = { assetId, name, file, contentHash: revision.contentHash };
    if (asset.kind === 'mesh') return input;
    const { colorSpace, convention } = asset;
    return { ...input, meaning: { colorSpace, ...(convention ? { convention } : {}) } };
  }
  const {
    name,
    file,
    contentHash,
    revision: map,
  } = (await latestPictures(database, [assetId])).get(assetId) ?? notFound('picture');
  return { assetId, name, file, contentHash, ...(map ? { revisionId: map.id } : {}) };
}

export async function projectOf(database: DataSource, runId: string): Promise<string> {
  const row = await database.getRepository(runs).findOneBy({ id: runId });
  return row?.projectId ?? notFound('run');
}

/** Finishes a queued run at once if every map it would make already exists under its key. */
async function reuseResult(manager: EntityManager, run: Pick<TicketRunRow, 'id' | 'ticketId' | 'key'>): Promise<void> {
  const places = await manager.getRepository(maps).findBy({ ticketId: run.ticketId });
  const made: MapRevisionRow[] = [];
  for (const { kind, tile } of places) {
    const revision = await manager
      .createQueryBuilder(mapRevisions, 'r')
      .innerJoin(maps.options.name, 'm', 'm.id = r."mapId"')
      .where('r.key = :key AND m.kind = :kind AND m.tile = :tile', { key: run.key, kind, tile })
      .orderBy('r."createdAt"', 'DESC')
      .getOne();
    if (!revision) return;
    made.push(revision);
  }
  if (places.length === 0) return;
  const earlier = (await manager.getRepository(runs).findOne({
    where: { id: made[0]!.runId },
    select: { id: true, report: true, proof: true, likeness: true },
  })) as BakeRunRow | null;
  for (const [i, place] of places.entries()) {
    const latest = await manager
      .getRepository(mapRevisions)
      .findOne({ where: { mapId: place.id }, order: { number: 'DESC' } });
    // The newest revision is this very result: nothing to add.
    if (latest?.key === run.key) continue;
    await addMapRevision(manager, place.id, run.id, made[i]!);
  }
  const finishedAt = new Date();
  const done: Partial<BakeRunRow> = {
    id: run.id,
    state: 'done' as const,
    share: 1,
    startedAt: finishedAt,
    finishedAt,
    report: earlier?.report ?? null,
    proof: earlier?.proof ?? null,
    likeness: earlier?.likeness ?? null,
  };
  await manager.getRepository(runs).save(done);
}

type NewMapRevision = Pick<
  MapRevisionRow,
  'key' | 'directory' | 'dataHash' | 'statesDirectory' | 'statesHash' | 'thumbnailHash' | 'histograms'
>;

/** The map at a place of an image set; made for whoever fills it first. */
export async function mapAt(
  manager: EntityManager,
  place: Pick<MapRow, 'imageSetId' | 'kind' | 'tile' | 'layered'>,
  ticketId: string | null,
): Promise<string> {
  const repository = manager.getRepository(maps);
  const row = (await repository.findOneBy(place)) ?? (await repository.save({ ...place, ticketId }));
  return row.id;
}

/** Puts a result in place as the next revision of a map; earlier ones stay. */
export async function addMapRevision(
  manager: EntityManager,
  mapId: string,
  runId: string,
  result: NewMapRevision,
): Promise<void> {
  const { key, directory, dataHash, statesDirectory, statesHash, thumbnailHash, histograms } = result;
  const repository = manager.getRepository(mapRevisions);
  const number = ((await repository.maximum('number', { mapId })) ?? 0) + 1;
  const row = {
    mapId,
    runId,
    number,
    key,
    directory,
    dataHash,
    statesDirectory,
    statesHash,
    thumbnailHash,
    histograms,
  };
  await repository.insert(row);
}

/** Stops a run: a queued one at once, a running one as soon as its worker hears of it. */
export async function cancelRun(database: DataSource, id: string): Promise<Run> {
  await database.query(
    `UPDATE run SET "cancelRequested" = true,
       state = CASE WHEN state = 'queued' THEN 'cancelled' ELSE state END,
       "finishedAt" = CASE WHEN state = 'queued' THEN now() ELSE "finishedAt" END
     WHERE id = $1 AND state IN ('queued', 'running')`,
    [id],
  );
  const run = await readRun(database, id);
  await announce(database, { type: 'cancel', runId: id });
  await announce(database, { type: 'changed', projectId: await projectOf(database, id) });
  return run;
}

/** Asks a layout to end with the best it has so far; one that has nothing yet goes on until it has. */
export async function finishRun(database: DataSource, id: string): Promise<Run> {
  await database.query(
    `UPDATE run SET "finishRequested" = true WHERE id = $1 AND state = 'running' AND operation IN ('layout', 'merge')`,
    [id],
  );
  await announce(database, { type: 'finish', runId: id });
  return readRun(database, id);
}

/** Takes the oldest queued run for a worker, or returns null. */
export async function takeRun(database: DataSource, workerId: string, leaseSeconds: number): Promise<RunRow | null> {
  const [rows] = await database.query<[{ id: string }[], number]>(
    `UPDATE run SET state = 'running', "workerId" = $1, attempts = attempts + 1, "startedAt" = now(),
       "leaseUntil" = now() + make_interval(secs => $2), share = 0, stage = NULL, "secondsLeft" = NULL, note = NULL
     WHERE id = (SELECT id FROM run WHERE state = 'queued' ORDER BY "createdAt" FOR UPDATE SKIP LOCKED LIMIT 1)
     RETURNING id`,
    [workerId, leaseSeconds],
  );
  return rows[0] ? database.getRepository(runs).findOneBy({ id: rows[0].id }) : null;
}

/** Keeps a lease alive. False when the run was given to somebody else or stopped meanwhile. */
export async function renewLease(
  database: DataSource,
  runId: string,
  workerId: string,
  leaseSeconds: number,
): Promise<{ held: boolean; cancelRequested: boolean; finishRequested: boolean }> {
  const [rows] = await database.query<[{ cancelRequested: boolean; finishRequested: boolean }[], number]>(
    `UPDATE run SET "leaseUntil" = now() + make_interval(secs => $3)
       WHERE id = $1 AND "workerId" = $2 AND state = 'running' RETURNING "cancelRequested", "finishRequested"`,
    [runId, workerId, leaseSeconds],
  );
  const { cancelRequested = false, finishRequested = false } = rows[0] ?? {};
  return { held: rows.length > 0, cancelRequested, finishRequested };
}

/** Returns runs whose worker has gone silent to the queue, or gives them up after too many attempts. */
export async function returnLapsedRuns(database: DataSource): Promise<void> {
  const lost = {
    code: 'run/lost',
    message: `The worker was lost ${MAX_ATTEMPTS} times during this run, most likely out of memory. Choose a smaller size or fewer samples, and run it again.`,
  };
  const [rows] = await database.query<[{ projectId: string }[], number]>(
    `UPDATE run SET
       state = CASE WHEN "cancelRequested" THEN 'cancelled' WHEN attempts >= $1 THEN 'failed' ELSE 'queued' END,
       error = CASE WHEN NOT "cancelRequested" AND attempts >= $1 THEN $2::jsonb ELSE NULL END,
       "finishedAt" = CASE WHEN "cancelRequested" OR attempts >= $1 THEN now() ELSE NULL END,
       "workerId" = NULL, "leaseUntil" = NULL
     WHERE state = 'running' AND "leaseUntil" < now() RETURNING "projectId"`,
    [MAX_ATTEMPTS, JSON.stringify(lost)],
  );
  for (const { projectId } of rows) await announce(database, { type: 'changed', projectId });
}
