import type { DataSource } from 'typeorm';
import type { BlobStore } from './blobs/blobStore.ts';
import type { Config } from './config.ts';

/** What the routes and the intake work with. */
export interface Services {
  database: DataSource;
  blobs: BlobStore;
  config: Config;
}
