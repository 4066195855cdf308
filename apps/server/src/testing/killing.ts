import { mkdtempSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import pg from 'pg';
import { ENDPOINTS } from '@zographos/contracts';
import { randomNumbers } from '@zographos/core/math';
import { buildNode } from '../../../../tools/build.mjs';
import { Cluster } from '../../../../tools/postgres.mjs';
import { Supervisor } from '../../../../tools/supervise.mjs';
import { ApiClient } from './apiClient.ts';
import { reliefProject } from './meshes.ts';

export const VICTIMS = ['worker', 'server', 'database'] as const;
export type Victim = (typeof VICTIMS)[number];

/** How a run got on whose database, server or worker was killed. */
export interface KillRound {
  victim: Victim;
  /** Milliseconds after the run was asked for. */
  after: number;
  /** What the run was at when it was struck. */
  during: string;
  state: string;
  /** Whether its maps have the bytes that an undisturbed run gave. */
  sameBytes: boolean;
  /** From asking to the end of the run. */
  seconds: number;
}

/** Milliseconds within which everything has to be back. */
const PATIENCE_MS = 90_000;

/**
 * Starts an installation as npm start does, and kills one of its processes at a random moment of each of many runs.
 * Every third time it waits until results are being written.
 * @param rounds how often each process is killed
 * @param say told what the supervisor says
 * @param report told each round as it ends
 */
export async function killAtRandom(
  rounds: number,
  size: number,
  seed: number,
  say: (sentence: string) => void,
  report: (round: KillRound) => void = () => {},
): Promise<KillRound[]> {
  await buildNode();
  const cluster = new Cluster(mkdtempSync(path.join(os.tmpdir(), 'zographos-kills-')));
  const url = await cluster.start();
  const env = {
    ...process.env,
    ...{ DATABASE_URL: url, ZOGRAPHOS_PORT: '0', ZOGRAPHOS_LOG: 'silent' },
    ...{ ZOGRAPHOS_DEMO: 'no', ZOGRAPHOS_LEASE_SECONDS: '2' },
  };
  const supervisor = new Supervisor({ cluster, env, say });
  try {
    const client = new ApiClient(await supervisor.start());
    const settings = { size: { width: size, height: size }, samples: 4 };
    const { projectId, ticket } = await reliefProject(client, { ...settings, maps: ['normal', 'height', 'curvature'] });
    const begun = performance.now();
    const { id } = await client.call(ENDPOINTS.runTicket, { id: ticket.id });
    await client.ended(projectId, id);
    const usual = performance.now() - begun;
    const expected = await hashes(url);

    const random = randomNumbers(seed);
    const results: KillRound[] = [];
    for (let i = 0; i < rounds * VICTIMS.length; i++) {
      const victim = VICTIMS[i % VICTIMS.length]!;
      // A result that is known would be put in place without computing it.
      await patiently(() => query(url, 'DELETE FROM map_revision'));
      const asked = performance.now();
      const run = await patiently(() => client.call(ENDPOINTS.runTicket, { id: ticket.id }));
      const isStoring = Math.floor(i / VICTIMS.length) % 3 === 2;
      if (isStoring) while ((await client.runOf(projectId, run.id)).stage !== 'encode') await pause(5);
      await pause(random() * (isStoring ? 0.2 : 1) * usual);
      const { stage, state: before } = await client.runOf(projectId, run.id);
      const after = performance.now() - asked;
      process.kill(supervisor.pids[victim]!, 'SIGKILL');
      const { state } = await patiently(() => client.ended(projectId, run.id));
      const seconds = (performance.now() - asked) / 1000;
      const sameBytes = JSON.stringify(await patiently(() => hashes(url))) === JSON.stringify(expected);
      await patiently(() =>
        Promise.resolve(Object.values(supervisor.pids).every(Boolean) || Promise.reject(new Error())),
      );
      const round = { victim, after, during: stage ?? before, state, sameBytes, seconds };
      results.push(round);
      report(round);
    }
    return results;
  } finally {
    await supervisor.stop();
    cluster.remove();
  }
}

const hashes = (url: string): Promise<unknown[]> =>
  query(
    url,
    `SELECT m.kind, r."dataHash", r."statesHash" FROM map_revision r JOIN map m ON m.id = r."mapId" ORDER BY 1, r.number`,
  );

async function query(url: string, text: string): Promise<unknown[]> {
  const client = new pg.Client({ connectionString: url });
  client.on('error', () => {});
  await client.connect();
  try {
    return (await client.query<Record<string, unknown>>(text)).rows;
  } finally {
    await client.end();
  }
}

/** Asks again until there is an answer. */
async function patiently<T>(ask: () => Promise<T>): Promise<T> {
  for (const until = Date.now() + PATIENCE_MS; ;) {
    try {
      return await ask();
    } catch (error) {
      if (Date.now() > until) throw error;
      await pause(200);
    }
  }
}

const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));
