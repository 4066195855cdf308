import { mkdtempSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import type { TestProject } from 'vitest/node';
import { buildNode, buildStudio } from '../../tools/build.mjs';
import { Cluster } from '../../tools/postgres.mjs';
import { endProcess, serverEnvironment, startServer } from './serverProcess.ts';

declare module 'vitest' {
  export interface ProvidedContext {
    /** The folder of a stopped cluster whose database holds the demo. */
    demo: string;
  }
}

/** The demo is made once, by the server itself; each file of tests goes on from a copy. */
export default async function setUp(project: TestProject): Promise<() => void> {
  await buildNode();
  await buildStudio();
  const cluster = new Cluster(mkdtempSync(path.join(os.tmpdir(), 'zographos-demo-')));
  const { server } = await startServer(serverEnvironment(await cluster.start()));
  await endProcess(server);
  cluster.stop();
  project.provide('demo', cluster.folder);
  return () => cluster.remove();
}
