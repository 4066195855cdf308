// npm start: sets up what is missing, starts database, server and worker, prints the address, and stops all of
// it on Ctrl+C.
import { fork } from 'node:child_process';
import path from 'node:path';
import { installPackages, installPostgres } from './install.mjs';
import { ROOT } from './paths.mjs';
import { Cluster } from './postgres.mjs';

installPackages();
installPostgres();
const { buildNode, buildStudio, nodeProgram, STUDIO_FOLDER } = await import('./build.mjs');
await buildNode();
await buildStudio();

const dataFolder = process.env['ZOGRAPHOS_DATA'] ?? path.join(ROOT, '.data');
const cluster = process.env['DATABASE_URL'] ? null : new Cluster(dataFolder);
const databaseUrl = process.env['DATABASE_URL'] ?? (await cluster?.start());
const env = {
  ...process.env,
  DATABASE_URL: databaseUrl,
  ZOGRAPHOS_STUDIO: STUDIO_FOLDER,
  ZOGRAPHOS_PORT: process.env['ZOGRAPHOS_PORT'] ?? '4280',
  ZOGRAPHOS_LOG: process.env['ZOGRAPHOS_LOG'] ?? 'warn',
};

let stopping = false;
/** @type {import('node:child_process').ChildProcess[]} */
const children = [];

/** @param {string} program @param {(code: number | null) => void} onExit */
function launch(program, onExit) {
  // A group of its own: Ctrl+C in the terminal reaches only this process, which stops the rest in order.
  const child = fork(nodeProgram(program), { env, detached: true });
  children.push(child);
  child.once('exit', (code) => {
    children.splice(children.indexOf(child), 1);
    if (!stopping) onExit(code);
  });
  return child;
}

function launchWorker() {
  launch('worker', () => {
    process.stderr.write('The worker ended unexpectedly and is started again; its run is taken up.\n');
    setTimeout(launchWorker, 1000);
  });
}

async function stop(code = 0) {
  if (stopping) return;
  stopping = true;
  const ended = children.map((child) => new Promise((resolve) => child.once('exit', resolve)));
  for (const child of children) child.kill('SIGTERM');
  const patience = setTimeout(() => children.forEach((child) => child.kill('SIGKILL')), 8000);
  await Promise.all(ended);
  clearTimeout(patience);
  cluster?.stop();
  process.exit(code);
}
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => void stop());

const server = launch('server', () => {
  process.stderr.write(
    `The server ended; see above. If port ${env.ZOGRAPHOS_PORT} is taken, set another with ZOGRAPHOS_PORT.\n`,
  );
  void stop(1);
});
server.once('message', (message) => {
  const { address } = /** @type {{ address: string }} */ (message);
  launchWorker();
  process.stdout.write(`\n  Zographos is at ${address}\n  Ctrl+C stops it.\n\n`);
});
