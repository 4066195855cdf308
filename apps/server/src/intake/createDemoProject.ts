import type { MapKind } from '@zographos/core/image';
import { DEMO_FLAT_TICKETS, DEMO_LIGHTS, DEMO_STACKS, DEMO_TICKETS } from '@zographos/demo';
import { readAssets, notFound } from '../data/readProject.ts';
import { maps, projects, tickets } from '../data/entities.ts';
import { enqueueRun } from '../runs/queue.ts';
import { createTicket } from '../tickets/tickets.ts';
import type { Services } from '../services.ts';
import { readOnThread } from './intakeDesk.ts';
import { takeIn } from './takeIn.ts';
import type { IncomingFile } from './takeInFile.ts';

/**
 * Makes the project Saltmarsh Quay the way an artist would: its files are brought in, its tickets are written. If that
 * fails, nothing of it stays.
 */
export async function createDemoProject(services: Services): Promise<string> {
  const { id } = await services.database.getRepository(projects).save({ name: 'Saltmarsh Quay' });
  try {
    await fill(services, id);
  } catch (error) {
    await services.blobs.deleteProject(id).catch(() => false);
    throw error;
  }
  return id;
}

/** Has the receivers of the demo that have layers baked and finished, so that there is something to see. */
export async function finishDemo({ database }: Services, projectId: string): Promise<void> {
  const stacks = await database.getRepository(tickets).findBy({ projectId, operation: 'layers' });
  for (const { id } of stacks) await enqueueRun(database, id);
}

async function fill(services: Services, id: string): Promise<void> {
  const { database, blobs } = services;
  const { files } = await readOnThread({ kind: 'demo', name: 'demo' });
  const incoming: IncomingFile[] = [];
  for (const { name, bytes } of files) incoming.push({ name, blob: await blobs.writeBytes(bytes) });
  await takeIn(services, id, incoming);
  const made = await readAssets(database, id);
  const named = (name: string): string => made.find((asset) => asset.kind === 'mesh' && asset.objectName === name)!.id;
  // Formats that know no unit.
  await database.query(`UPDATE asset SET unit = 'mm' WHERE "projectId" = $1 AND unit = 'units'`, [id]);
  /** The image sets of receivers, by their names. */
  const baked = new Map<string, string>();
  for (const { receivers, sources, ...ticket } of DEMO_TICKETS) {
    const inputs = { receivers: receivers.map(named), sources: sources.map(named) };
    const { imageSetId } = await createTicket(database, id, { ...ticket, inputs });
    for (const receiver of receivers) baked.set(receiver, imageSetId);
  }
  for (const { receiver, ...stack } of DEMO_STACKS) {
    const inputs = { receivers: [], sources: [], pictures: [] };
    await createTicket(database, id, { ...stack, operation: 'layers', inputs, set: { id: baked.get(receiver)! } });
  }
  for (const { receiver, sources, set, name, settings } of DEMO_LIGHTS) {
    const inputs = { receivers: [named(receiver)], sources: sources.map(named) };
    await createTicket(database, id, { name, settings, inputs, operation: 'light', set: { name: set } });
  }
  const sets = new Map<string, string>();
  for (const { set, from, ...ticket } of DEMO_FLAT_TICKETS) {
    const known = sets.get(set);
    const picture = from === null ? [] : [await pictureOf(from, known)];
    const { imageSetId } = await createTicket(database, id, {
      ...ticket,
      inputs: { receivers: [], sources: [], pictures: picture },
      set: known ? { id: known } : { name: set },
    });
    sets.set(set, imageSetId);
  }

  async function pictureOf(from: { image: string } | { map: string }, imageSetId: string | undefined): Promise<string> {
    if ('image' in from) return made.find(({ kind, name }) => kind === 'image' && name === from.image)!.id;
    const row = await database.getRepository(maps).findOneBy({ imageSetId: imageSetId!, kind: from.map as MapKind });
    return row?.id ?? notFound('map');
  }
}
