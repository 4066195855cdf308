import { fork, type ChildProcess } from 'node:child_process';
import { nodeProgram, STUDIO_FOLDER } from '../../tools/build.mjs';

/** What the built server and worker are told: their database, the built studio, any free port, and to speak of errors only. */
export function serverEnvironment(databaseUrl: string): NodeJS.ProcessEnv {
  return {
    ...process.env,
    DATABASE_URL: databaseUrl,
    ZOGRAPHOS_STUDIO: STUDIO_FOLDER,
    ZOGRAPHOS_PORT: '0',
    ZOGRAPHOS_LOG: 'error',
  };
}

/** Starts the built server. Resolves once it answers at its address, with the demo in its database. */
export async function startServer(environment: NodeJS.ProcessEnv): Promise<{ server: ChildProcess; address: string }> {
  const server = fork(nodeProgram('server'), { env: environment });
  const address = await new Promise<string>((resolve, reject) => {
    server.once('message', (message) => resolve((message as { address: string }).address));
    server.once('exit', (code) => reject(new Error(`The server ended with ${code}.`)));
  });
  return { server, address };
}

/** Has a process end by itself, and waits until it has. */
export async function endProcess(child: ChildProcess): Promise<void> {
  if (child.exitCode !== null || child.signalCode !== null) return;
  child.kill('SIGTERM');
  await new Promise((resolve) => child.once('exit', resolve));
}
