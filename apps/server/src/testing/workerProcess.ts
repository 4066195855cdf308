import { fork, type ChildProcess } from 'node:child_process';
import { nodeProgram } from '../../../../tools/build.mjs';
import type { Config } from '../config.ts';

/** A worker in a process of its own, as npm start has it, on the database of a test server. */
export class WorkerProcess {
  private readonly child: ChildProcess;

  private constructor(child: ChildProcess) {
    this.child = child;
  }

  static async start(config: Config, environment: NodeJS.ProcessEnv = {}): Promise<WorkerProcess> {
    const env = { ...process.env, DATABASE_URL: config.databaseUrl, ZOGRAPHOS_LOG: 'silent', ...environment };
    const child = fork(nodeProgram('worker'), { env });
    await new Promise((resolve) => child.once('message', resolve));
    return new WorkerProcess(child);
  }

  async stop(signal: 'SIGTERM' | 'SIGKILL' = 'SIGTERM'): Promise<void> {
    if (this.child.exitCode !== null || this.child.signalCode !== null) return;
    const ended = new Promise((resolve) => this.child.once('exit', resolve));
    this.child.kill(signal);
    await ended;
  }
}
