import { DataSource } from 'typeorm';
import { ENTITIES } from './entities.ts';
import { MIGRATIONS } from './migrations/index.ts';

/** A connection pool to the one database that holds everything. */
export function createDatabase(url: string): DataSource {
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
    extra: { max: 12, connectionTimeoutMillis: 4000, keepAlive: true },
  });
}

/** Connects and brings the tables up to date. */
export async function openDatabase(url: string): Promise<DataSource> {
  const database = createDatabase(url);
  await database.initialize();
  await database.runMigrations();
  return database;
}
