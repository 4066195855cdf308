import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import express from 'express';
import type { DataSource } from 'typeorm';
import { ZographosError } from '@zographos/core/errors';
import { PATHS } from '@zographos/contracts';
import { access } from './access/access.ts';
import { BlobStore } from './blobs/blobStore.ts';
import type { Config } from './config.ts';
import { Channel } from './events/channel.ts';
import { EventHub } from './events/eventHub.ts';
import { EnvironmentWatch } from './events/environmentWatch.ts';
import { plain } from './http/answer.ts';
import { meshRoutes } from './http/meshRoutes.ts';
import { binaryRoutes } from './http/binaryRoutes.ts';
import { flatRoutes } from './http/flatRoutes.ts';
import { sendErrors } from './http/errors.ts';
import { jsonRoutes } from './http/routes.ts';
import type { Services } from './services.ts';
import { compressText, keepNothing } from './http/answerHeaders.ts';
import { checkHostAndOrigin, securityHeaders } from './http/security.ts';
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
  const environment = new EnvironmentWatch(database, hub, config.databaseFolder);

  const app = express();
  app.disable('x-powered-by');
  app.use(...securityHeaders, checkHostAndOrigin(config), compressText);
  // A stroke may have a hundred thousand points.
  app.use('/api/projects/:id/strokes', express.json({ limit: '6mb' }));
  app.use('/api', keepNothing, express.json({ limit: '1mb' }));
  app.use(access(database, config));
  app.get(
    PATHS.events(':id'),
    plain(({ id }, request, response) => {
      hub.subscribe(id!, request, response, [{ type: 'database', up: channel.up }, ...environment.state]);
      return Promise.resolve();
    }),
  );
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
      environment.close();
      hub.close();
      await channel.close();
      server.closeAllConnections();
      await new Promise((resolve) => server.close(resolve));
    },
  };
}
