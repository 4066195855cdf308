import { readConfig } from './config.ts';
import { openDatabase } from './data/database.ts';
import { projects } from './data/entities.ts';
import { giveUp } from './giveUp.ts';
import { createDemoProject, finishDemo } from './intake/createDemoProject.ts';
import { createLog } from './log.ts';
import { startServer } from './app.ts';

async function start(): Promise<void> {
  const log = createLog('server');
  const config = readConfig(process.env);
  const database = await openDatabase(config.databaseUrl);
  const server = await startServer(database, config, log);

  const stop = async (): Promise<void> => {
    await server.close();
    await database.destroy();
    process.exit(0);
  };
  process.on('SIGTERM', () => void stop());
  process.on('SIGINT', () => void stop());

  // The demo is made once: a database that has ever held a project is the artist's own.
  const demo = process.env['ZOGRAPHOS_DEMO'];
  if (demo !== 'no' && (await database.getRepository(projects).count()) === 0) {
    const projectId = await createDemoProject(server.services);
    if (demo === 'finished') await finishDemo(server.services, projectId);
  }
  log.info({ address: server.address }, 'ready');
  process.send?.({ address: server.address });
}

await start().catch(giveUp);
