import { DataSource } from 'typeorm';
import { ENTITIES } from './entities.ts';
import { MIGRATIONS } from './migrations/index.ts';

/** What the connections of a worker are called, so that servers see whether there is one. */
export const WORKER_NAME = 'zographos worker';

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
    extra: { max: 12, application_name: name, connectionTimeoutMillis: 4000, keepAlive: true },
  });
}

/** Connects and brings the tables up to date. */
export async function openDatabase(url: string): Promise<DataSource> {
  const database = createDatabase(url);
  await database.initialize();
  await database.runMigrations();
  return database;
}
