import { Router } from 'express';
import { ZographosError } from '@zographos/core/errors';
import { ENDPOINTS, openApiDocument } from '@zographos/contracts';
import { inputList } from '@zographos/operations';
import { assets, imageSets, projects } from '../data/entities.ts';
import { requireVersion } from '../data/locking.ts';
import {
  notFound,
  readAsset,
  readImageSet,
  readProject,
  readProjects,
  readProjectSummary,
  readProof,
} from '../data/readProject.ts';
import { announce } from '../events/channel.ts';
import { readStorage } from '../blobs/storage.ts';
import { isWorkerThere } from '../events/environmentWatch.ts';
import { changeMeshAsset, joinMeshAssets, splitMeshAsset } from '../meshes/changeMeshes.ts';
import { readRevisions, restoreRevision } from '../meshes/meshRevisions.ts';
import { renumberTile, setTiles } from '../meshes/tiles.ts';
import { createDemoProject, finishDemo } from '../intake/createDemoProject.ts';
import { enqueueLayout } from '../runs/layouts.ts';
import { enqueueMerge } from '../runs/merges.ts';
import { enqueueAtlas, renewAtlas } from '../runs/atlases.ts';
import { cancelRun, enqueueRun, finishRun } from '../runs/queue.ts';
import { changeTicket, createTicket, deleteTicket, estimateTicket } from '../tickets/tickets.ts';
import { measureReach, measureRepeat, measureShell } from '../tickets/measureTicket.ts';
import type { Services } from '../services.ts';
import { answer } from './answer.ts';

/** The JSON side of the API: everything in the contract. */
export function jsonRoutes(services: Services): Router {
  const { database, blobs, config } = services;
  const router = Router();
  const changed = (projectId: string): Promise<void> => announce(database, { type: 'changed', projectId });

  router.get('/api/openapi.json', (_request, response) => {
    response.json(openApiDocument());
  });

  answer(router, ENDPOINTS.health, () =>
    isWorkerThere(database).then(
      (worker) => ({ database: true, worker }),
      () => ({ database: false, worker: false }),
    ),
  );
  answer(router, ENDPOINTS.readStorage, () => readStorage(database, config.databaseFolder));
  answer(router, ENDPOINTS.listProjects, () => readProjects(database));
  answer(router, ENDPOINTS.createProject, async ({ name }) => {
    const { id } = await database.getRepository(projects).save({ name });
    return readProjectSummary(database, id);
  });
  answer(router, ENDPOINTS.createDemo, async () => {
    const id = await createDemoProject(services);
    await finishDemo(services, id);
    return readProjectSummary(database, id);
  });
  answer(router, ENDPOINTS.readProject, (_body, { id }) => readProject(database, id!));
  answer(router, ENDPOINTS.changeProject, async ({ version, name }, { id }) => {
    await database.transaction(async (manager) => {
      const row = await requireVersion(manager, projects, id!, version, 'project');
      await manager.getRepository(projects).save({ ...row, name });
    });
    await changed(id!);
    return readProjectSummary(database, id!);
  });
  answer(router, ENDPOINTS.deleteProject, async (_body, { id }) => {
    if (!(await blobs.deleteProject(id!))) notFound('project');
    await changed(id!);
    return undefined;
  });

  answer(router, ENDPOINTS.changeAsset, async ({ version, ...change }, { id }) => {
    const projectId = await database.transaction(async (manager) => {
      const row = await requireVersion(manager, assets, id!, version, 'mesh or image');
      await manager.getRepository(assets).save({ ...row, ...change });
      return row.projectId;
    });
    await changed(projectId);
    return readAsset(database, id!);
  });
  answer(router, ENDPOINTS.deleteAsset, async (_body, { id }) => {
    const row = (await database.getRepository(assets).findOneBy({ id: id! })) ?? notFound('mesh or image');
    const { tickets } = await readProject(database, row.projectId);
    const user = tickets.find(({ inputs }) => inputList(inputs).includes(id!));
    if (user) {
      throw new ZographosError(
        'conflict/in-use',
        `“${row.name}” is used by the ticket “${user.name}”. Choose another mesh there first.`,
      );
    }
    await database.getRepository(assets).delete({ id: id! });
    await changed(row.projectId);
    return undefined;
  });

  answer(router, ENDPOINTS.changeMesh, ({ from, change }, { id }) => changeMeshAsset(services, id!, from, change));
  answer(router, ENDPOINTS.splitMesh, ({ from, how }, { id }) => splitMeshAsset(services, id!, from, how));
  answer(router, ENDPOINTS.joinMeshes, ({ name, meshes }, { id }) => joinMeshAssets(services, id!, name, meshes));
  answer(router, ENDPOINTS.readRevisions, (_body, { id }) => readRevisions(database, id!));
  answer(router, ENDPOINTS.restoreRevision, ({ from, to }, { id }) => restoreRevision(database, id!, from, to));
  answer(router, ENDPOINTS.setTiles, (change, { id }) => setTiles(database, id!, change));
  answer(router, ENDPOINTS.renumberTile, ({ from, ...change }, { id }) => renumberTile(services, id!, from, change));
  answer(router, ENDPOINTS.createMerge, ({ meshes, settings }, { id }) =>
    enqueueMerge(database, id!, meshes, settings),
  );
  answer(router, ENDPOINTS.createAtlas, (settings, { id }) => enqueueAtlas(database, id!, settings));
  answer(router, ENDPOINTS.createLayout, ({ meshes, settings }, { id }) =>
    enqueueLayout(database, id!, meshes, settings, config.memoryLimitBytes),
  );

  answer(router, ENDPOINTS.createTicket, async (ticket, { id }) => {
    await readProjectSummary(database, id!);
    const made = await createTicket(database, id!, ticket);
    await changed(id!);
    return made;
  });
  answer(router, ENDPOINTS.changeTicket, async (change, { id }) => {
    const made = await changeTicket(database, id!, change);
    await changed((await database.getRepository(imageSets).findOneByOrFail({ id: made.imageSetId })).projectId);
    return made;
  });
  answer(router, ENDPOINTS.deleteTicket, async (_body, { id }) => {
    const [row] = await database.query<{ projectId: string }[]>(`SELECT "projectId" FROM ticket WHERE id = $1`, [id]);
    await deleteTicket(database, id!);
    if (row) await changed(row.projectId);
    return undefined;
  });
  answer(router, ENDPOINTS.estimateTicket, async (_body, { id }) => ({
    ...(await estimateTicket(database, id!)),
    memoryLimitBytes: config.memoryLimitBytes,
  }));
  answer(router, ENDPOINTS.suggestReach, (_body, { id }) => measureReach(services, id!));
  answer(router, ENDPOINTS.measureRepeat, (_body, { id }) => measureRepeat(services, id!));
  answer(router, ENDPOINTS.readShell, (_body, { id }) => measureShell(services, id!));
  answer(router, ENDPOINTS.readProof, (_body, { id }) => readProof(database, id!));
  answer(router, ENDPOINTS.runTicket, (_body, { id }) => enqueueRun(database, id!));
  answer(router, ENDPOINTS.runRegion, (region, { id }) => enqueueRun(database, id!, region));
  answer(router, ENDPOINTS.renewAtlas, (_body, { id }) => renewAtlas(database, id!));
  answer(router, ENDPOINTS.finishRun, (_body, { id }) => finishRun(database, id!));
  answer(router, ENDPOINTS.cancelRun, (_body, { id }) => cancelRun(database, id!));

  answer(router, ENDPOINTS.changeImageSet, async ({ version, ...change }, { id }) => {
    const projectId = await database.transaction(async (manager) => {
      const row = await requireVersion(manager, imageSets, id!, version, 'image set');
      await manager.getRepository(imageSets).save({ ...row, ...change });
      return row.projectId;
    });
    await changed(projectId);
    return readImageSet(database, id!);
  });
  return router;
}
