import type { DataSource } from 'typeorm';
import { ZographosError } from '@zographos/core/errors';
import type { Finish, Ticket } from '@zographos/contracts';
import { formatFor, IMAGE_FORMATS } from '@zographos/formats/images';
import { parseSettings, type PictureMeaning } from '@zographos/operations';
import { assets, finishes, imageSets, maps, type FinishMap, type FinishRow } from '../data/entities.ts';
import { latestMapRevisions } from '../data/latestRevisions.ts';
import { mapsInEffect } from '../data/mapsInEffect.ts';
import { notFound, readProjectSummary, readTicket } from '../data/readProject.ts';
import { announce } from '../events/channel.ts';
import { fileName } from '../http/attach.ts';
import { readOnThread } from '../intake/intakeDesk.ts';
import { takeIn } from '../intake/takeIn.ts';
import { loadMapImage } from '../data/mapImages.ts';
import { enqueueRun } from '../runs/queue.ts';
import { createTicket } from '../tickets/tickets.ts';
import type { Services } from '../services.ts';

/** The library of finishes: flat sets kept as they were, whatever becomes of their projects. */

export const toFinish = ({ id, name, tags, tileWidth, maps: held, createdAt }: FinishRow): Finish => ({
  ...{ id, name, tags, tileWidth },
  maps: held.map(({ kind, directory, thumbnailHash }) => {
    const { width, height } = directory.levels[0]!;
    return { kind, width, height, thumbnailHash };
  }),
  createdAt: createdAt.toISOString(),
});

export async function readFinishes(database: DataSource): Promise<Finish[]> {
  return (await database.getRepository(finishes).find({ order: { createdAt: 'DESC' } })).map(toFinish);
}

/** @throws input/bad-settings for a set without maps, missing/not-found */
export async function keepFinish(
  database: DataSource,
  imageSetId: string,
  { name, tags, tileWidth }: { name: string; tags: string[]; tileWidth: number | null },
): Promise<Finish> {
  const set = await database.getRepository(imageSets).findOneBy({ id: imageSetId });
  if (!set || set.receiverId !== null) return notFound('flat set');
  const held: FinishRow['maps'] = [];
  const rows = await database.getRepository(maps).findBy({ imageSetId });
  const made = await latestMapRevisions(
    database,
    rows.map(({ id }) => id),
  );
  for (const { id, kind } of mapsInEffect(rows, made)) {
    const revision = made.get(id);
    if (!revision) continue;
    const { directory, dataHash, statesDirectory, statesHash, thumbnailHash, histograms } = revision;
    held.push({ kind, directory, dataHash, statesDirectory, statesHash, thumbnailHash, histograms });
  }
  if (held.length === 0) {
    throw new ZographosError(
      'input/bad-settings',
      `“${set.name}” has no map yet that could be kept. Run its tickets first.`,
    );
  }
  return toFinish(await database.getRepository(finishes).save({ name, tags, tileWidth, maps: held }));
}

/**
 * Brings a finish into a project as a flat set: its maps become pictures, and a ticket that leaves them as they are makes
 * them maps again, which is set to run. Maps of another size than the first are there as pictures alone.
 * @throws missing/not-found
 */
export async function bringInFinish(services: Services, projectId: string, finishId: string): Promise<Ticket> {
  const { database } = services;
  await readProjectSummary(database, projectId);
  const finish = (await database.getRepository(finishes).findOneBy({ id: finishId })) ?? notFound('finish');
  const { width, height } = finish.maps[0]!.directory.levels[0]!;
  const pictures: KeptPicture[] = [];
  for (const map of finish.maps) {
    const picture = await asPicture(services, projectId, finish.name, map);
    const level = map.directory.levels[0]!;
    if (level.width === width && level.height === height) pictures.push(picture);
  }
  const asItIs = { method: 'none' as const };
  const { id, imageSetId } = await createTicket(database, projectId, {
    name: `${finish.name}, as kept`,
    operation: 'seamless',
    settings: parseSettings('seamless', {
      pictures: pictures.map(({ meaning }) => meaning),
      ends: { across: asItIs, up: asItIs },
      size: { width, height },
    }),
    inputs: { receivers: [], sources: [], pictures: pictures.map((picture) => picture.id) },
    set: { name: finish.name },
  });
  await database.getRepository(imageSets).update({ id: imageSetId }, { tileWidth: finish.tileWidth });
  await enqueueRun(database, id);
  await announce(database, { type: 'changed', projectId });
  return readTicket(database, id);
}

/** A map of a finish as an image of a project, and how it is meant. */
interface KeptPicture {
  id: string;
  meaning: PictureMeaning;
}

async function asPicture(
  services: Services,
  projectId: string,
  finish: string,
  { kind, ...held }: FinishMap,
): Promise<KeptPicture> {
  const { database, blobs } = services;
  const image = await loadMapImage(blobs, held);
  const format = formatFor(kind);
  const name = `${fileName(finish)}_${kind}.${IMAGE_FORMATS[format].ending}`;
  const { bytes } = await readOnThread({ kind: 'file', name, image, format });
  const file = { name, blob: await blobs.writeBytes(bytes) };
  // Another finish of the same name is not this one.
  const { assets: taken } = await takeIn(services, projectId, [file], { existing: 'separate' });
  const { id } = taken[0] ?? notFound('picture of the finish');
  // What it holds is known here, and need not be guessed from its name.
  const { colorSpace = 'linear', convention } = held.directory;
  await database.getRepository(assets).update({ id }, { imageKind: kind, colorSpace, convention: convention ?? null });
  return { id, meaning: { kind, colorSpace, ...(convention ? { convention } : {}) } };
}
