import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import sharp from 'sharp';
import { reportOf, ENDPOINTS, PATHS, type Asset } from '@zographos/contracts';
import { DEFAULT_BAKE, USUAL_ENDINGS, type BakeOperationSettings } from '@zographos/operations';
import { TestServer } from '../testing/testServer.ts';
import { WorkerProcess } from '../testing/workerProcess.ts';

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

/** A square at height z whose layout is the given tile column, or a quarter of the first tile. */
function square(name: string, z: number, uv: [u: number, v: number, side: number], material = ''): string {
  const [u, v, s] = uv;
  return `${material}o ${name}\nv 0 0 ${z}\nv 1 0 ${z}\nv 1 1 ${z}\nv 0 1 ${z}\nvt ${u} ${v}\nvt ${u + s} ${v}\nvt ${u + s} ${v + s}\nvt ${u} ${v + s}\nvn 0 0 1\n${material && 'usemtl slate\n'}f 1/1/1 2/2/1 3/3/1 4/4/1\n`;
}

const SETTINGS: BakeOperationSettings = {
  ...DEFAULT_BAKE,
  maps: ['normal', 'height'],
  size: { width: 64, height: 64 },
  samples: 1,
  padding: 2,
  reach: { out: 0.5, in: 0.5 },
};

async function project(
  files: Record<string, Uint8Array | string>,
): Promise<{ id: string; named: (name: string) => Asset }> {
  const { id } = await server.call(ENDPOINTS.createProject, {}, { name: 'Quay' });
  const { assets, failures } = await server.send(id, files);
  expect(failures).toEqual([]);
  return { id, named: (name) => assets.find((asset) => asset.name === name)! };
}

/** A square that carries maps, another above it that gives them, and a ticket for both. */
async function lightAndDense(
  settings: Partial<BakeOperationSettings> = {},
  files: Record<string, Uint8Array | string> = {},
) {
  const { id, named } = await project({
    'light.obj': square('light', 0, [0.1, 0.1, 0.8]),
    'dense.obj': square('dense', 0.1, [0, 0, 1]),
    ...files,
  });
  const inputs = { receivers: [named('light').id], sources: [named('dense').id] };
  const ticket = await server.call(
    ENDPOINTS.createTicket,
    { id },
    { name: 'Tide board', operation: 'bake', settings: { ...SETTINGS, ...settings }, inputs },
  );
  return { id, inputs, ticket };
}

async function run(projectId: string, ticketId: string) {
  const { id } = await server.call(ENDPOINTS.runTicket, { id: ticketId });
  const ended = await server.ended(projectId, id);
  expect(ended.error).toBeNull();
  return ended;
}

describe('a ticket of several parts', () => {
  it('matches them by the names they have in the project, and bakes again only what has changed', async () => {
    const { id, named } = await project({
      'a.obj': square('cleat_low', 0, [0, 0, 0.5]),
      'b.obj': square('ring_low', 0, [0.5, 0.5, 0.5]),
      'c.obj': square('cleat_high', 0.1, [0, 0, 1]),
      'd.obj': square('ring_high', 0.2, [0, 0, 1]),
    });
    const receivers = ['cleat_low', 'ring_low'].map((name) => named(name).id);
    const sources = ['cleat_high', 'ring_high'].map((name) => named(name).id);
    const { id: ticketId } = await server.call(
      ENDPOINTS.createTicket,
      { id },
      {
        name: 'Kit',
        operation: 'bake',
        settings: { ...SETTINGS, match: USUAL_ENDINGS },
        inputs: { receivers, sources },
      },
    );
    const first = await run(id, ticketId);
    expect(first.report).toMatchObject({ misses: 0, takenOver: 0 });
    // Another ring, brought in under the same name: the cleat's texels stay.
    await server.send(id, { 'd.obj': square('ring_high', 0.3, [0, 0, 1]) }, 'revise');
    const second = await run(id, ticketId);
    expect(reportOf(second, 'bake')!.takenOver).toBe(32 * 32);
    expect(reportOf(second, 'bake')!.texels.covered).toBe(2 * 32 * 32);
    // Names decide who sees whom: a renamed part finds no partner, and the result is another.
    const { version } = named('ring_low');
    await server.call(ENDPOINTS.changeAsset, { id: receivers[1]! }, { version, name: 'hoop_low' });
    const third = await run(id, ticketId);
    expect(
      reportOf(third, 'bake')!
        .findings.map(({ sentence }) => sentence)
        .join(),
    ).toMatch(/No source matches the name of “hoop_low”/);
  });

  it('fills all tiles of one receiver, and keeps those it no longer bakes', async () => {
    const both = `${square('left', 0, [0, 0, 1])}${square('right', 0, [1, 0, 1]).replace(/f .*/, 'f 5/5/2 6/6/2 7/7/2 8/8/2')}`;
    const { id, named } = await project({ 'both.obj': both, 'dense.obj': square('dense', 0.1, [0, 0, 1]) });
    const inputs = { receivers: [named('left').id, named('right').id], sources: [named('dense').id] };
    const ticket = await server.call(
      ENDPOINTS.createTicket,
      { id },
      {
        name: 'Tiles',
        operation: 'bake',
        settings: { ...SETTINGS, tiles: 'all', tileSizes: { '1002': { width: 32, height: 32 } } },
        inputs,
      },
    );
    await run(id, ticket.id);
    const maps = async () => (await server.call(ENDPOINTS.readProject, { id })).imageSets[0]!.maps;
    const placed = (await maps()).map(({ kind, tile, revisions }) => [kind, tile, revisions[0]!.width]);
    expect(placed).toEqual(
      expect.arrayContaining([
        ['normal', 1001, 64],
        ['normal', 1002, 32],
        ['height', 1002, 32],
      ]),
    );
    const { version } = (await server.call(ENDPOINTS.readProject, { id })).tickets[0]!;
    await server.call(ENDPOINTS.changeTicket, { id: ticket.id }, { version, settings: { ...SETTINGS, tiles: [1001] } });
    await run(id, ticket.id);
    expect((await maps()).filter(({ tile }) => tile === 1002).every(({ revisions }) => revisions.length === 1)).toBe(
      true,
    );
    const { id: revision } = (await maps()).find(({ tile }) => tile === 1002)!.revisions[0]!;
    const answer = await server.fetch(
      PATHS.download(revision, 'png8', { alpha: true, dither: true, background: 'white' }),
    );
    expect(answer.headers.get('content-disposition')).toMatch(/_1002|\.1002\.png/);
    const { channels } = await sharp(Buffer.from(await answer.arrayBuffer())).metadata();
    expect(channels).toBe(4);
  });

  it('has one rectangle baked anew, and counts as out of date until the whole is', async () => {
    const { id, ticket } = await lightAndDense({}, { 'light.obj': square('light', 0, [0, 0, 1]) });
    await run(id, ticket.id);
    await server.send(id, { 'dense.obj': square('dense', 0.2, [0, 0, 1]) }, 'revise');
    const region = { tile: 1001, x: 4, y: 4, width: 10, height: 10 };
    const part = await server.ended(id, (await server.call(ENDPOINTS.runRegion, { id: ticket.id }, region)).id);
    expect(part.state).toBe('done');
    expect(part.sentence).toMatch(/Only 10 × 10 px of tile 1001/);
    const now = await server.call(ENDPOINTS.readProject, { id });
    const { revisions } = now.imageSets[0]!.maps.find(({ kind }) => kind === 'height')!;
    expect(revisions).toHaveLength(2);
    expect(revisions[0]!.key).not.toBe(now.tickets[0]!.key);
    // A quarter of the map shows the new height, the rest the old one.
    expect(revisions[0]!.histograms[0]!.mean).toBeCloseTo(0.1 * 0.75 + 0.2 * 0.25, 4);
    await expect(server.call(ENDPOINTS.runRegion, { id: ticket.id }, { ...region, tile: 999 })).rejects.toThrow(
      /1001 to 2000/,
    );
  });

  it('is proved: seams, likeness, and how far rays reach from each vertex', async () => {
    const { id, ticket } = await lightAndDense({ reach: 'fitted' });
    const { receivers } = await server.call(ENDPOINTS.readShell, { id: ticket.id });
    expect(receivers).toHaveLength(1);
    expect(receivers[0]!.out).toHaveLength(4);
    for (const out of receivers[0]!.out) expect(out).toBeCloseTo(0.12, 2);
    const done = await run(id, ticket.id);
    const { id: runId } = done;
    // A plane shows its front from four of the six sides.
    expect(reportOf(done, 'bake')!.likeness).toHaveLength(4);
    expect((await server.call(ENDPOINTS.readProof, { id: runId })).hasLikeness).toBe(true);
    const picture = await server.fetch(PATHS.likeness(runId));
    expect(picture.headers.get('content-type')).toBe('image/png');
  });

  it('takes colours from the pictures that came with a mesh', async () => {
    const blue = await sharp({ create: { width: 2, height: 2, channels: 3, background: '#0000ff' } })
      .png()
      .toBuffer();
    const { id, ticket } = await lightAndDense(
      { maps: ['basecolor'] },
      {
        'dense.obj': square('dense', 0.1, [0, 0, 1], 'mtllib dense.mtl\n'),
        'dense.mtl': 'newmtl slate\nKd 1 1 1\nmap_Kd slate.png\n',
        'slate.png': blue,
      },
    );
    await run(id, ticket.id);
    const [map] = (await server.call(ENDPOINTS.readProject, { id })).imageSets[0]!.maps;
    expect(map!.revisions[0]!.histograms.map(({ mean }) => mean)).toEqual(
      [0, 0, 1].map((mean): unknown => expect.closeTo(mean, 4)),
    );
  });
});

describe('rows from before there were several receivers', () => {
  it('are read as they were meant', async () => {
    const { id, inputs, ticket } = await lightAndDense();
    const { SeveralReceivers1700000000002: Step } = await import('../data/migrations/severalReceivers.ts');
    const queries = server.database.createQueryRunner();
    await new Step().down(queries);
    const [row] = await server.database.query<{ inputs: object }[]>(`SELECT inputs FROM ticket WHERE id = $1`, [
      ticket.id,
    ]);
    expect(row!.inputs).toEqual({ receiver: inputs.receivers[0], sources: inputs.sources });
    await new Step().up(queries);
    await queries.release();
    expect((await server.call(ENDPOINTS.readProject, { id })).tickets[0]!.inputs).toEqual(inputs);
  });
});
