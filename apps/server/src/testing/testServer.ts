import { randomBytes } from 'node:crypto';
import pg from 'pg';
import pino from 'pino';
import type { DataSource } from 'typeorm';
import { inject } from 'vitest';
import { startServer, type RunningServer } from '../app.ts';
import { readConfig, type Config } from '../config.ts';
import { openDatabase } from '../data/database.ts';
import { RunWorker } from '../worker/worker.ts';
import { ApiClient } from './apiClient.ts';

export const quiet = pino({ level: 'silent' });

/** An empty database of its own on the tests' server. */
export async function emptyDatabase(): Promise<string> {
  const name = `test_${randomBytes(6).toString('hex')}`;
  const client = new pg.Client({ connectionString: inject('postgres') });
  await client.connect();
  await client.query(`CREATE DATABASE ${name}`);
  await client.end();
  return inject('postgres').replace(/\/postgres$/, `/${name}`);
}

/** The API in this process, spoken to over HTTP. */
export class TestServer extends ApiClient {
  readonly running: RunningServer;
  readonly database: DataSource;
  readonly config: Config;
  private worker: RunWorker | null = null;

  private constructor(running: RunningServer, database: DataSource, config: Config) {
    super(running.address);
    this.running = running;
    this.database = database;
    this.config = config;
  }

  static async start(environment: NodeJS.ProcessEnv = {}): Promise<TestServer> {
    const config = readConfig({
      DATABASE_URL: environment['DATABASE_URL'] ?? (await emptyDatabase()),
      ...environment,
    });
    const database = await openDatabase(config.databaseUrl);
    return new TestServer(await startServer(database, config, quiet), database, config);
  }

  /** With a worker in this process. */
  static async startWithWorker(environment: NodeJS.ProcessEnv = {}): Promise<TestServer> {
    const server = await TestServer.start(environment);
    server.worker = new RunWorker(server.database, server.config, quiet);
    await server.worker.start();
    return server;
  }

  async stop(): Promise<void> {
    await this.worker?.stop();
    await this.running.close();
    await this.database.destroy();
  }
}
