import { DataSource } from 'typeorm';
import { ENTITIES } from './entities.ts';
import { MIGRATIONS } from './migrations/index.ts';

/** What the connections of a worker are called, so that servers see whether there is one. */
export const WORKER_NAME = 'zographos worker';

/** How long opening a connection may take. A busy machine needs seconds; a server that is down refuses at once. */
export const CONNECT_MS = 15_000;

/**
 * A connection pool to the one database that holds everything.
 * @param name what its connections are called
 */
export function createDatabase(url: string, name = 'zographos server'): DataSource {
  return new DataSource({
    type: 'postgres',
    url,
    entities: ENTITIES,
    migrations: MIGRATIONS,
    migrationsTransactionMode: 'all',
    // gen_random_uuid() is built in; nothing needs to be installed into the database.
    uuidExtension: 'pgcrypto',
    installExtensions: false,
    poolErrorHandler: () => {
      // A connection that breaks while idle is replaced by the pool; requests report what they meet themselves.
    },
    extra: { max: 12, application_name: name, connectionTimeoutMillis: CONNECT_MS, keepAlive: true },
  });
}

/** How long a database that takes its time is waited for at the start. */
const PATIENCE_MS = 30_000;

/**
 * Connects. A database that refuses, or that is not there, fails at once; one that is slow is tried again for a while.
 * @returns the same, connected
 */
export async function connected(database: DataSource): Promise<DataSource> {
  const begun = Date.now();
  for (;;) {
    try {
      return await database.initialize();
    } catch (error) {
      const isSlow = error instanceof Error && /timeout/i.test(error.message);
      if (!isSlow || Date.now() - begun > PATIENCE_MS) throw error;
    }
  }
}

/** Connects and brings the tables up to date. */
export async function openDatabase(url: string): Promise<DataSource> {
  const database = await connected(createDatabase(url));
  await database.runMigrations();
  return database;
}
