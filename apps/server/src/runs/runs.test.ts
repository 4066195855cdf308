import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { ENDPOINTS, PATHS, type MapRevision } from '@zographos/contracts';
import { unshufflePlanes } from '@zographos/formats/tiles';
import { reliefObj, reliefProject } from '../testing/meshes.ts';
import { TestServer } from '../testing/testServer.ts';
import { WorkerProcess } from '../testing/workerProcess.ts';

/** A run long enough to be disturbed. */
const LONG = { size: { width: 1536, height: 1536 }, samples: 3 };
const IMPATIENT = { ZOGRAPHOS_LEASE_SECONDS: '1' };

let server: TestServer;
let worker: WorkerProcess;
beforeAll(async () => {
  server = await TestServer.start();
  worker = await WorkerProcess.start(server.config);
});
afterAll(async () => {
  await worker.stop();
  await server.stop();
});

async function revisions(projectId: string): Promise<MapRevision[]> {
  const { imageSets } = await server.call(ENDPOINTS.readProject, { id: projectId });
  return imageSets[0]!.maps[0]!.revisions;
}

async function bytes(path: string): Promise<Uint8Array> {
  const response = await server.fetch(path);
  expect(response.status).toBe(200);
  return new Uint8Array(await response.arrayBuffer());
}

/** Waits until a run is well under way. */
async function underWay(projectId: string, runId: string): Promise<void> {
  for (;;) {
    const run = await server.runOf(projectId, runId);
    if (run.state === 'running' && run.stage === 'trace' && run.share > 0.05) return;
    expect(['queued', 'running']).toContain(run.state);
    await new Promise((resolve) => setTimeout(resolve, 20));
  }
}

describe('a run', () => {
  it('is announced as it moves and ends with a map in the database', async () => {
    const { projectId, ticket } = await reliefProject(server);
    const events = await server.events(projectId);
    expect(await events.next()).toEqual({ type: 'database', up: true });
    const { id, state, sentence } = await server.call(ENDPOINTS.runTicket, { id: ticket.id });
    expect(state).toBe('queued');
    expect(sentence).toMatch(/^Bake normal .* of plane from relief at 64 px/);
    const stages = new Set<string>();
    for (;;) {
      const event = await events.next();
      if (event.type === 'progress' && event.stage) stages.add(event.stage);
      if (event.type === 'changed' && (await server.runOf(projectId, id)).state === 'done') break;
    }
    events.stop();
    expect([...stages]).toContain('trace');
    const run = await server.runOf(projectId, id);
    expect(run.report).toMatchObject({ rays: 64 * 64, misses: 0, texels: { covered: 64 * 64, missed: 0 } });
    const [revision] = await revisions(projectId);
    expect(revision).toMatchObject({ number: 1, runId: id, key: ticket.key, width: 64, height: 64, channels: 3 });
    expect(revision!.histograms).toHaveLength(3);
  });

  it('gives the same values as tiles and as files, in every format', async () => {
    const { projectId, ticket } = await reliefProject(server, { size: { width: 320, height: 160 } });
    await server.ended(projectId, (await server.call(ENDPOINTS.runTicket, { id: ticket.id })).id);
    const { id } = (await revisions(projectId))[0]!;
    // Tiles are 256 texels wide: the second column begins at 256.
    const tile = unshufflePlanes(await bytes(PATHS.tile(id, 'map', 0, 1, 0)));
    expect(tile.length).toBe(64 * 160 * 3);
    for (const format of ['png16', 'tiff16', 'png8'] as const) {
      const file = sharp(await bytes(PATHS.download(id, format)));
      const deep = format !== 'png8';
      expect(await file.metadata()).toMatchObject({ width: 320, height: 160, depth: deep ? 'ushort' : 'uchar' });
      const raw = await file
        .toColourspace(deep ? 'rgb16' : 'srgb')
        .raw({ depth: deep ? 'ushort' : 'uchar' })
        .toBuffer();
      const samples = deep ? new Uint16Array(raw.buffer, raw.byteOffset, raw.length / 2) : raw;
      const top = deep ? 65535 : 255;
      for (let i = 0; i < tile.length; i++) {
        const [x, y] = [256 + (Math.floor(i / 3) % 64), Math.floor(i / 3 / 64)];
        expect(samples[(y * 320 + x) * 3 + (i % 3)]).toBe(Math.round(tile[i]! * top));
      }
    }
    const exr = await server.fetch(PATHS.download(id, 'exr'));
    expect(exr.headers.get('content-disposition')).toContain('plane_normal.exr');
    expect(new DataView(await exr.arrayBuffer()).getUint32(0, true)).toBe(20000630);
    expect((await bytes(PATHS.download(id, 'tga'))).length).toBeGreaterThan(1000);
    const refused = await server.fetch(PATHS.download(id, 'docx'));
    expect(await refused.json()).toMatchObject({ code: 'input/bad-request' });
  });

  it('makes all maps of its ticket, each with the range of its values', async () => {
    const { projectId, ticket } = await reliefProject(server, { maps: ['normal', 'height', 'ao'] });
    await server.ended(projectId, (await server.call(ENDPOINTS.runTicket, { id: ticket.id })).id);
    const { imageSets } = await server.call(ENDPOINTS.readProject, { id: projectId });
    const made = new Map(imageSets[0]!.maps.map(({ kind, revisions: [newest] }) => [kind, newest!]));
    expect([...made.keys()].sort()).toEqual(['ao', 'height', 'normal']);
    const { range, channels, id, histograms } = made.get('height')!;
    expect(channels).toBe(1);
    expect(range[1]).toBeGreaterThan(0.04);
    expect(range[1]).toBeLessThan(0.051);
    expect(histograms[0]!.max).toBeLessThanOrEqual(range[1]);
    const grey = await sharp(await bytes(PATHS.download(id, 'png16'))).metadata();
    expect(grey).toMatchObject({ channels: 1, depth: 'ushort' });
    expect((await server.call(ENDPOINTS.runTicket, { id: ticket.id })).state).toBe('done');
  });

  it('is not repeated for the same result, and is stale once an input has changed', async () => {
    const { projectId, ticket } = await reliefProject(server, {}, reliefObj(20));
    const first = await server.call(ENDPOINTS.runTicket, { id: ticket.id });
    await server.ended(projectId, first.id);
    const again = await server.call(ENDPOINTS.runTicket, { id: ticket.id });
    expect(again.state).toBe('done');
    expect(again.report).toEqual((await server.runOf(projectId, first.id)).report);
    expect(await revisions(projectId)).toHaveLength(1);

    await server.send(projectId, { 'relief.obj': reliefObj(30) }, 'revise');
    const { tickets } = await server.call(ENDPOINTS.readProject, { id: projectId });
    const [old] = await revisions(projectId);
    expect(tickets[0]!.key).not.toBe(old!.key);
    await server.ended(projectId, (await server.call(ENDPOINTS.runTicket, { id: ticket.id })).id);
    const both = await revisions(projectId);
    expect(both.map(({ number }) => number)).toEqual([2, 1]);
    expect(both[0]!.key).toBe(tickets[0]!.key);

    // Back to the mesh of before: what was made of it is put in place without a run.
    await server.send(projectId, { 'relief.obj': reliefObj(20) }, 'revise');
    const back = await server.call(ENDPOINTS.runTicket, { id: ticket.id });
    expect(back.state).toBe('done');
    expect((await revisions(projectId)).map(({ number, key }) => [number, key])).toEqual([
      [3, old!.key],
      [2, both[0]!.key],
      [1, old!.key],
    ]);
  });

  it('asked for in two windows at once is one run', async () => {
    const { projectId, ticket } = await reliefProject(server, LONG);
    const asked = await Promise.all([1, 2, 3].map(() => server.call(ENDPOINTS.runTicket, { id: ticket.id })));
    expect(new Set(asked.map(({ id }) => id)).size).toBe(1);
    await server.call(ENDPOINTS.cancelRun, { id: asked[0]!.id });
    expect((await server.ended(projectId, asked[0]!.id)).state).toBe('cancelled');
  });

  it('can be cancelled waiting or working, and leaves nothing behind', async () => {
    const { projectId, ticket } = await reliefProject(server, LONG);
    const working = await server.call(ENDPOINTS.runTicket, { id: ticket.id });
    await underWay(projectId, working.id);
    const other = await reliefProject(server);
    const waiting = await server.call(ENDPOINTS.runTicket, { id: other.ticket.id });
    expect((await server.call(ENDPOINTS.cancelRun, { id: waiting.id })).state).toBe('cancelled');
    await server.call(ENDPOINTS.cancelRun, { id: working.id });
    expect((await server.ended(projectId, working.id)).state).toBe('cancelled');
    expect(await revisions(projectId)).toEqual([]);
    // Cancelling what has ended changes nothing.
    expect((await server.call(ENDPOINTS.cancelRun, { id: working.id })).state).toBe('cancelled');
  });
});

describe('a run that cannot work', () => {
  it('fails with its reason when the source is far away', async () => {
    const far = reliefObj().replace(/^v (\S+) (\S+) \S+$/gm, 'v $1 $2 50');
    const { projectId, ticket } = await reliefProject(server, {}, far);
    const run = await server.ended(projectId, (await server.call(ENDPOINTS.runTicket, { id: ticket.id })).id);
    expect(run).toMatchObject({
      state: 'failed',
      error: {
        code: 'run/nothing-hit',
        message: expect.stringMatching(/No ray hit.*increase the reach/) as string,
      },
    });
    expect(await revisions(projectId)).toEqual([]);
  });

  it('fails with its reason when the receiver has no UVs', async () => {
    const { projectId, ticket, relief, plane } = await reliefProject(server);
    const { id, version } = ticket;
    await server.call(ENDPOINTS.changeTicket, { id }, { version, inputs: { receivers: [relief], sources: [plane] } });
    const run = await server.ended(projectId, (await server.call(ENDPOINTS.runTicket, { id })).id);
    expect(run).toMatchObject({
      state: 'failed',
      error: { code: 'input/no-uvs', message: expect.stringMatching(/relief.*UV/) as string },
    });
  });

  it('is refused with the figure when it would not fit into memory', async () => {
    const { projectId, ticket } = await reliefProject(server, { size: { width: 16384, height: 16384 }, samples: 8 });
    await worker.stop();
    const modest = await WorkerProcess.start(server.config, { ZOGRAPHOS_MAX_MEMORY_MB: '1000' });
    const run = await server.ended(projectId, (await server.call(ENDPOINTS.runTicket, { id: ticket.id })).id);
    expect(run).toMatchObject({ state: 'failed', error: { code: 'limit/memory' } });
    expect(run.error!.message).toMatch(/would need about \d+\.\d GB; the limit is 1\.0 GB \(ZOGRAPHOS_MAX_MEMORY_MB\)/);
    await modest.stop();
    worker = await WorkerProcess.start(server.config);
  });
});

describe('a worker', () => {
  // That its maps have the same bytes is tried in supervision.test.ts.
  it('killed in the middle of a run is followed by one that finishes it', async () => {
    const { projectId, ticket } = await reliefProject(server, LONG);
    await worker.stop();
    const doomed = await WorkerProcess.start(server.config, IMPATIENT);
    const { id } = await server.call(ENDPOINTS.runTicket, { id: ticket.id });
    await underWay(projectId, id);
    await doomed.stop('SIGKILL');
    expect((await server.runOf(projectId, id)).state).toBe('running');
    worker = await WorkerProcess.start(server.config);
    const run = await server.ended(projectId, id);
    expect(run).toMatchObject({ state: 'done', attempts: 2 });
  }, 180_000);

  it('asked to stop hands its run on without losing a try', async () => {
    const { projectId, ticket } = await reliefProject(server, LONG);
    const { id } = await server.call(ENDPOINTS.runTicket, { id: ticket.id });
    await underWay(projectId, id);
    await worker.stop();
    expect(await server.runOf(projectId, id)).toMatchObject({ state: 'queued', attempts: 0 });
    worker = await WorkerProcess.start(server.config);
    await underWay(projectId, id);
    await server.call(ENDPOINTS.cancelRun, { id });
    await server.ended(projectId, id);
  }, 120_000);
});
