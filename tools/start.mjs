// npm start: sets up what is missing, starts database, server and worker, prints the address, brings back what ends
// unexpectedly, and stops all of it on Ctrl+C.
import path from 'node:path';
import { installPackages, installPostgres } from './install.mjs';
import { ROOT } from './paths.mjs';
import { Cluster } from './postgres.mjs';
import { Supervisor } from './supervise.mjs';

installPackages();
installPostgres();
const { buildNode, buildStudio, STUDIO_FOLDER } = await import('./build.mjs');
await buildNode();
await buildStudio();

const dataFolder = process.env['ZOGRAPHOS_DATA'] ?? path.join(ROOT, '.data');
const cluster = process.env['DATABASE_URL'] ? null : new Cluster(dataFolder);
const databaseUrl = process.env['DATABASE_URL'] ?? (await cluster?.start());
const env = {
  ...process.env,
  DATABASE_URL: databaseUrl,
  ...(cluster ? { ZOGRAPHOS_DATABASE_FOLDER: cluster.data } : {}),
  ZOGRAPHOS_STUDIO: STUDIO_FOLDER,
  // What the demo finishes in layers is there without a click.
  ZOGRAPHOS_DEMO: process.env['ZOGRAPHOS_DEMO'] ?? 'finished',
  ZOGRAPHOS_PORT: process.env['ZOGRAPHOS_PORT'] ?? '4280',
  ZOGRAPHOS_LOG: process.env['ZOGRAPHOS_LOG'] ?? 'warn',
};

const supervisor = new Supervisor({ cluster, env, say: (sentence) => process.stderr.write(`${sentence}\n`) });

async function stop(code = 0) {
  await supervisor.stop();
  process.exit(code);
}
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => void stop());
void supervisor.failed.then(() => stop(1));

const address = await supervisor.start();
process.stdout.write(`\n  Zographos is at ${address}\n  Ctrl+C stops it.\n\n`);
