import os from 'node:os';
import { readConfig } from './config.ts';
import { connected, createDatabase, WORKER_NAME } from './data/database.ts';
import { giveUp } from './giveUp.ts';
import { createLog } from './log.ts';
import { RunWorker } from './worker/worker.ts';

async function start(): Promise<void> {
  // Runs take every core for minutes: server, database and browser on the same machine go first. Threads inherit it.
  os.setPriority(os.constants.priority.PRIORITY_BELOW_NORMAL);
  const log = createLog('worker');
  const config = readConfig(process.env);
  const database = await connected(createDatabase(config.databaseUrl, WORKER_NAME));
  const worker = new RunWorker(database, config, log);
  await worker.start();
  process.send?.({ ready: true });

  const stop = async (): Promise<void> => {
    await worker.stop();
    await database.destroy();
    process.exit(0);
  };
  process.on('SIGTERM', () => void stop());
  process.on('SIGINT', () => void stop());
}

await start().catch(giveUp);
