import { fork } from 'node:child_process';
import { createServer, type AddressInfo } from 'node:net';
import { describe, expect, it } from 'vitest';
import { nodeProgram } from '../../../tools/build.mjs';
import { BackOff } from '../../../tools/supervise.mjs';
import { killAtRandom, VICTIMS } from './testing/killing.ts';
import { emptyDatabase } from './testing/testServer.ts';

describe('what npm start keeps running', () => {
  it('comes back after a kill; the run goes on, and its maps have the same bytes', { timeout: 240_000 }, async () => {
    const told: string[] = [];
    const rounds = await killAtRandom(1, 256, 7, (sentence) => told.push(sentence));
    expect(rounds.map(({ victim, state, sameBytes }) => ({ victim, state, sameBytes }))).toEqual(
      VICTIMS.map((victim) => ({ victim, state: 'done', sameBytes: true })),
    );
    for (const victim of VICTIMS) {
      expect(told).toContainEqual(expect.stringMatching(`The ${victim} ended unexpectedly and is started again`));
      expect(told).toContain(`The ${victim} is back.`);
    }
  });

  it('is started after longer and longer pauses, and at once again when it has recovered', () => {
    const backOff = new BackOff();
    const pauses = Array.from({ length: 9 }, () => {
      backOff.started(0);
      return backOff.next(10);
    });
    expect(pauses).toEqual([500, 1000, 2000, 4000, 8000, 16_000, 30_000, 30_000, 30_000]);
    backOff.started(0);
    expect(backOff.next(11_000)).toBe(500);
  });
});

describe('a server that cannot start', () => {
  /** All that it writes, and how it ends. */
  function startWith(settings: NodeJS.ProcessEnv): Promise<{ code: number | null; said: string }> {
    const child = fork(nodeProgram('server'), {
      env: { ...process.env, ZOGRAPHOS_LOG: 'silent', ZOGRAPHOS_DEMO: 'no', ...settings },
      silent: true,
    });
    let said = '';
    for (const stream of [child.stdout!, child.stderr!]) stream.on('data', (text: Buffer) => (said += text.toString()));
    return new Promise((resolve) => child.once('close', (code) => resolve({ code, said })));
  }

  it('says why in one sentence, without a stack', async () => {
    const taken = createServer().listen(0, '127.0.0.1');
    await new Promise((resolve) => taken.once('listening', resolve));
    const { port } = taken.address() as AddressInfo;
    const database = await emptyDatabase();
    const cases: [NodeJS.ProcessEnv, RegExp][] = [
      [{ DATABASE_URL: '' }, /DATABASE_URL/],
      [{ DATABASE_URL: database, ZOGRAPHOS_PORT: 'seventy' }, /ZOGRAPHOS_PORT is “seventy”/],
      [{ DATABASE_URL: database, ZOGRAPHOS_HOST: '0.0.0.0' }, /ZOGRAPHOS_PASSPHRASE/],
      [{ DATABASE_URL: database, ZOGRAPHOS_MAX_BYTES: '-3' }, /ZOGRAPHOS_MAX_BYTES is “-3”/],
      [{ DATABASE_URL: database, ZOGRAPHOS_PORT: String(port) }, /is taken by another program/],
      [{ DATABASE_URL: 'postgres://zographos:x@127.0.0.1:1/postgres' }, /does not answer .*Start it/],
      [{ DATABASE_URL: database.replace(/\/[^/]*$/, '/no_such_base') }, /DATABASE_URL.*Set it to a database/],
    ];
    for (const [settings, sentence] of cases) {
      const { code, said } = await startWith(settings);
      expect({ said, code }).toEqual({ said: expect.stringMatching(sentence) as string, code: 1 });
      expect(said.trim().split('\n')).toHaveLength(1);
    }
    taken.close();
  });
});
