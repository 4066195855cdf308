import { pipeline } from 'node:stream/promises';
import { Readable } from 'node:stream';
import { Router } from 'express';
import { ZographosError } from '@zographos/core/errors';
import { ENDPOINTS, PATHS, samplesBody } from '@zographos/contracts';
import { coatings, finishes, imageSets, profiles, runs } from '../data/entities.ts';
import { requireVersion } from '../data/locking.ts';
import { notFound, readProject, readProjectSummary } from '../data/readProject.ts';
import { announce } from '../events/channel.ts';
import { keepStroke } from '../runs/strokes.ts';
import { keepCoating, readCoatings, useCoating } from '../coatings/coatings.ts';
import { bringInFinish, keepFinish, readFinishes, toFinish } from '../flat/finishes.ts';
import { readSamples } from '../flat/samples.ts';
import { enqueueDelivery } from '../runs/deliveries.ts';
import type { Services } from '../services.ts';
import { answer, plain } from './answer.ts';
import { attach, fileName, FOR_EVER } from './attach.ts';

const MOST_SIDE = 2048;

/** Flat material: samples for previews, profiles, deliveries, finishes. */
export function flatRoutes(services: Services): Router {
  const { database, blobs } = services;
  const router = Router();
  const changed = (projectId: string): Promise<void> => announce(database, { type: 'changed', projectId });

  router.get(
    PATHS.samples(':id', '', 0).split('?')[0]!,
    plain(async ({ id }, request, response) => {
      const { side: wanted } = request.query;
      const side = wanted === 'sketch' ? wanted : Math.min(MOST_SIDE, Math.max(16, Number(wanted) || 512));
      const image = await readSamples(services, id!, side);
      response.setHeader('Content-Type', 'application/octet-stream');
      response.setHeader('Cache-Control', FOR_EVER);
      response.end(samplesBody(image));
    }),
  );

  router.get(
    PATHS.archive(':id'),
    plain(async ({ id }, _request, response) => {
      const row = await database.getRepository(runs).findOneBy({ id: id! });
      if (row?.operation !== 'deliver' || !row.report) return notFound('delivery');
      const { archive } = row.report;
      const { name } = await readProjectSummary(database, row.projectId);
      response.setHeader('Content-Length', await blobs.size(archive));
      attach(response, `${fileName(`${name} ${row.settings.profile.name}`)}.zip`, 'application/zip');
      await pipeline(Readable.from(blobs.read(archive)), response);
    }),
  );

  answer(router, ENDPOINTS.createDelivery, (settings, { id }) => enqueueDelivery(database, id!, settings));

  answer(router, ENDPOINTS.createProfile, async (settings, { id }) => {
    await readProjectSummary(database, id!);
    const { id: profileId, version } = await database.getRepository(profiles).save({ projectId: id!, settings });
    await changed(id!);
    return { id: profileId, version, settings };
  });
  answer(router, ENDPOINTS.changeProfile, async ({ version, settings }, { id }) => {
    const row = await database.transaction(async (manager) => {
      const known = await requireVersion(manager, profiles, id!, version, 'profile');
      return manager.getRepository(profiles).save({ ...known, settings });
    });
    await changed(row.projectId);
    return { id: row.id, version: row.version, settings };
  });
  answer(router, ENDPOINTS.deleteProfile, async (_body, { id }) => {
    const row = (await database.getRepository(profiles).findOneBy({ id: id! })) ?? notFound('profile');
    await database.getRepository(profiles).delete({ id: id! });
    await changed(row.projectId);
    return undefined;
  });

  answer(router, ENDPOINTS.deleteImageSet, async (_body, { id }) => {
    const row = await database.getRepository(imageSets).findOneBy({ id: id! });
    if (!row || row.receiverId !== null) return notFound('flat set');
    await requireUnusedMaps(services, row.projectId, id!);
    await database.getRepository(imageSets).delete({ id: id! });
    await changed(row.projectId);
    return undefined;
  });

  answer(router, ENDPOINTS.listFinishes, () => readFinishes(database));
  answer(router, ENDPOINTS.keepStroke, (body, { id }) => keepStroke(database, blobs, id!, body));
  answer(router, ENDPOINTS.keepFinish, (body, { id }) => keepFinish(database, id!, body));
  answer(router, ENDPOINTS.changeFinish, async (change, { id }) => {
    const row = (await database.getRepository(finishes).findOneBy({ id: id! })) ?? notFound('finish');
    return toFinish(await database.getRepository(finishes).save({ ...row, ...change }));
  });
  answer(router, ENDPOINTS.deleteFinish, async (_body, { id }) => {
    const { affected } = await database.getRepository(finishes).delete({ id: id! });
    if (!affected) notFound('finish');
    return undefined;
  });
  answer(router, ENDPOINTS.listCoatings, () => readCoatings(database));
  answer(router, ENDPOINTS.keepCoating, (body, { id }) => keepCoating(services, id!, body));
  answer(router, ENDPOINTS.deleteCoating, async (_body, { id }) => {
    const { affected } = await database.getRepository(coatings).delete({ id: id! });
    if (!affected) notFound('coating');
    return undefined;
  });
  answer(router, ENDPOINTS.useCoating, (first, { id, coatingId }) => useCoating(services, id!, coatingId!, first));
  answer(router, ENDPOINTS.useFinish, (_body, { id, finishId }) => bringInFinish(services, id!, finishId!));
  return router;
}

/** @throws conflict/in-use naming the ticket of another set that is made of this one's maps */
async function requireUnusedMaps({ database }: Services, projectId: string, setId: string): Promise<void> {
  const { imageSets: sets, tickets } = await readProject(database, projectId);
  const ids = new Set(sets.find(({ id }) => id === setId)?.maps.map(({ id }) => id));
  const user = tickets.find(
    ({ imageSetId, inputs }) => imageSetId !== setId && inputs.pictures?.some((picture) => ids.has(picture)),
  );
  if (!user) return;
  throw new ZographosError('conflict/in-use', `“${user.name}” is made of maps of this set. Choose others there first.`);
}
