import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import express from 'express';
import type { DataSource } from 'typeorm';
import { ZographosError } from '@zographos/core/errors';
import { PATHS } from '@zographos/contracts';
import { BlobStore } from './blobs/blobStore.ts';
import type { Config } from './config.ts';
import { Channel } from './events/channel.ts';
import { EventHub } from './events/eventHub.ts';
import { WorkerWatch } from './events/workerWatch.ts';
import { plain } from './http/answer.ts';
import { meshRoutes } from './http/meshRoutes.ts';
import { binaryRoutes } from './http/binaryRoutes.ts';
import { flatRoutes } from './http/flatRoutes.ts';
import { sendErrors } from './http/errors.ts';
import { jsonRoutes } from './http/routes.ts';
import type { Services } from './services.ts';
import { checkHostAndOrigin, checkPassphrase, securityHeaders } from './http/security.ts';
import { studioFiles } from './http/studioFiles.ts';
import type { Logger } from './log.ts';

export interface RunningServer {
  address: string;
  services: Services;
  close(): Promise<void>;
}

/** Starts the API (and the studio, if it is built) on the configured address. */
export async function startServer(database: DataSource, config: Config, log: Logger): Promise<RunningServer> {
  const services: Services = { database, blobs: new BlobStore(database), config };
  const hub = new EventHub();
  const channel = new Channel(config.databaseUrl, (message) => {
    if (message.type !== 'queued' && message.type !== 'cancel' && message.type !== 'finish') hub.publish(message);
  });
  await channel.open();
  const workers = new WorkerWatch(database, hub);

  const app = express();
  app.disable('x-powered-by');
  app.use(...securityHeaders, checkHostAndOrigin(config), ...checkPassphrase(config.passphrase));
  app.get(
    PATHS.events(':id'),
    plain(({ id }, request, response) => {
      hub.subscribe(id!, request, response, [
        { type: 'database', up: channel.up },
        { type: 'worker', up: workers.up },
      ]);
      return Promise.resolve();
    }),
  );
  app.use(express.json({ limit: '1mb' }));
  app.use(jsonRoutes(services), binaryRoutes(services), meshRoutes(services), flatRoutes(services));
  if (config.studioFolder) app.use(studioFiles(config.studioFolder));
  app.use(() => {
    throw new ZographosError('missing/not-found', 'There is nothing at this address.');
  });
  app.use(sendErrors(log));

  const server = await new Promise<Server>((resolve, reject) => {
    const listening = app.listen(config.port, config.host, (error?: Error) =>
      error ? reject(error) : resolve(listening),
    );
  });
  const { port } = server.address() as AddressInfo;
  return {
    address: `http://${config.host.includes(':') ? `[${config.host}]` : config.host}:${port}`,
    services,
    async close() {
      workers.close();
      hub.close();
      await channel.close();
      server.closeAllConnections();
      await new Promise((resolve) => server.close(resolve));
    },
  };
}
