import { mkdtempSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { ENDPOINTS } from '@zographos/contracts';
import { Cluster } from '../../../tools/postgres.mjs';
import { reliefProject } from './testing/meshes.ts';
import { TestServer } from './testing/testServer.ts';
import { WorkerProcess } from './testing/workerProcess.ts';

let cluster: Cluster;
let server: TestServer;
let worker: WorkerProcess;
beforeAll(async () => {
  cluster = new Cluster(mkdtempSync(path.join(os.tmpdir(), 'zographos-outage-')));
  server = await TestServer.start({ DATABASE_URL: await cluster.start() });
  worker = await WorkerProcess.start(server.config, { ZOGRAPHOS_LEASE_SECONDS: '2' });
});
afterAll(async () => {
  await worker.stop();
  await server.stop();
  cluster.remove();
});

describe('PostgreSQL stopped in the middle of a run and started again', () => {
  it('is told to whoever watches, and the run is finished afterwards', async () => {
    const { projectId, ticket } = await reliefProject(server, { size: { width: 512, height: 512 }, samples: 4 });
    const events = await server.events(projectId);
    expect(await events.next()).toEqual({ type: 'database', up: true });
    const { id } = await server.call(ENDPOINTS.runTicket, { id: ticket.id });
    while ((await server.runOf(projectId, id)).state !== 'running') await pause(20);

    cluster.stop();
    for (let event = await events.next(); event.type !== 'database'; event = await events.next());
    expect(await server.call(ENDPOINTS.health)).toEqual({ database: false, worker: false });
    await expect(server.call(ENDPOINTS.readProject, { id: projectId })).rejects.toMatchObject({
      status: 503,
      code: 'service/database',
      message: expect.stringMatching(/Nothing is lost/) as string,
    });

    await cluster.startAgain();
    for (;;) {
      const event = await events.next();
      if (event.type === 'database' && event.up) break;
    }
    events.stop();
    expect(await server.call(ENDPOINTS.health)).toMatchObject({ database: true });
    expect(await server.ended(projectId, id)).toMatchObject({ state: 'done', error: null });
  });
});

const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));
