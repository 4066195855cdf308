import { mkdtempSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import type { TestProject } from 'vitest/node';
import { buildNode } from '../../../../tools/build.mjs';
import { Cluster } from '../../../../tools/postgres.mjs';

declare module 'vitest' {
  export interface ProvidedContext {
    /** The address of a PostgreSQL server of the tests' own. */
    postgres: string;
  }
}

/** One PostgreSQL for all API tests of a run, in a folder of its own that goes with it, and the built worker. */
export default async function setUp(project: TestProject): Promise<() => void> {
  await buildNode();
  const cluster = new Cluster(mkdtempSync(path.join(os.tmpdir(), 'zographos-api-')));
  project.provide('postgres', await cluster.start());
  return () => cluster.remove();
}
